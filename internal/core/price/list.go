package price

// List is the items side of an offering.
type List struct {
	Currency    string            `json:"currency" maxLength:"3" doc:"ISO 4217; of all sums"`
	Rates       map[string]string `json:"rates,omitempty" doc:"By ISO 4217 code: what one unit of another currency is worth in the currency, as a decimal number"`
	List        []Item            `json:"list" maxItems:"10000" nullable:"false"`
	Extras      []Extra           `json:"extras,omitempty" maxItems:"1000" nullable:"false"`
	Discounts   []Together        `json:"discounts,omitempty" maxItems:"20" nullable:"false" doc:"From so many of some items together"`
	Surcharges  []Surcharge       `json:"surcharges,omitempty" maxItems:"20" nullable:"false"`
	Tax         *Tax              `json:"tax,omitempty"`
	From        string            `json:"from,omitempty" maxLength:"60" doc:"Key of the date question from which monthly prices run; parts of a month are charged by days"`
	Term        *Term             `json:"term,omitempty" doc:"For how long it is kept"`
	Company     *Company          `json:"company,omitempty" doc:"What the company pays; the person pays the rest"`
	Tolerance   string            `json:"tolerance,omitempty" maxLength:"10" doc:"Percent by which the real cost may exceed the price asked before it is told; 0 when left out"`
	CostCentres *CostCentres      `json:"costCentres,omitempty" doc:"Which answers share the cost; without it the beneficiary's own cost centre bears it"`
}

// Item is something priced that can be picked in a form.
type Item struct {
	Key       string        `json:"key" maxLength:"60"`
	Name      string        `json:"name" maxLength:"200"`
	Text      string        `json:"text,omitempty" maxLength:"1000"`
	Picture   string        `json:"picture,omitempty" maxLength:"80000" doc:"data: URI of a PNG, JPEG, WebP or SVG of plain shapes"`
	Group     string        `json:"group,omitempty" maxLength:"100" doc:"Heading under which it stands"`
	Price     Charge        `json:"price"`
	Options   []OptionGroup `json:"options,omitempty" maxItems:"20" nullable:"false"`
	Discounts []Discount    `json:"discounts,omitempty" maxItems:"20" nullable:"false"`
	Tax       string        `json:"tax,omitempty" maxLength:"10" doc:"Percent, in place of that of the list; only when the list has a tax"`
	Min       int           `json:"min,omitempty" minimum:"0" maximum:"1000" doc:"Smallest quantity; 1 when left out"`
	Max       int           `json:"max,omitempty" minimum:"0" maximum:"1000" doc:"Largest quantity; 1000 when left out"`
	Count     string        `json:"count,omitempty" maxLength:"4000" doc:"CEL that gives how many, such as a sum over a table; the asker picks the item, not the quantity"`
	Instead   []string      `json:"instead,omitempty" maxItems:"100" nullable:"false" doc:"Keys of items that do as well in its place, for those who decide to compare with"`
	Default   bool          `json:"default,omitempty" doc:"Picked until the asker touches the question"`
	When      string        `json:"when,omitempty" maxLength:"4000" doc:"CEL over asker, beneficiary and answers; can be picked when it holds"`
}

// OptionGroup is a choice within an item, such as its size.
type OptionGroup struct {
	Key     string   `json:"key" maxLength:"60"`
	Name    string   `json:"name" maxLength:"100"`
	Require bool     `json:"require,omitempty" doc:"One must be chosen"`
	Choices []Option `json:"choices" maxItems:"100" nullable:"false"`
}

// Option is one choice within an item. Its amount is added to the price of one
// item, in the same period and currency.
type Option struct {
	Key    string `json:"key" maxLength:"60"`
	Name   string `json:"name" maxLength:"100"`
	Amount string `json:"amount,omitempty" maxLength:"20" doc:"Decimal number; nothing when left out"`
	When   string `json:"when,omitempty" maxLength:"4000" doc:"CEL; can be chosen when it holds"`
}

// Extra is an accessory: a line of its own below an item it fits.
type Extra struct {
	Key   string   `json:"key" maxLength:"60"`
	Name  string   `json:"name" maxLength:"200"`
	Text  string   `json:"text,omitempty" maxLength:"1000"`
	Price Charge   `json:"price"`
	Fits  []string `json:"fits,omitempty" maxItems:"10000" nullable:"false" doc:"Keys of the items it fits; all when left out"`
	Max   int      `json:"max,omitempty" minimum:"0" maximum:"1000" doc:"Largest quantity; 1000 when left out"`
	When  string   `json:"when,omitempty" maxLength:"4000" doc:"CEL; can be picked when it holds"`
}

// Charge says what one of something costs.
type Charge struct {
	Amount   string `json:"amount" maxLength:"20" doc:"Decimal number, such as 12.50"`
	Per      Period `json:"per"`
	Currency string `json:"currency,omitempty" maxLength:"3" doc:"ISO 4217, when it is not that of the list"`
	Unit     string `json:"unit,omitempty" maxLength:"30" doc:"What the price is of, such as metre or hour; the piece when left out"`
	ByDays   bool   `json:"byDays,omitempty" doc:"The first part of a month is charged by days"`
}

// Period says how often a charge falls due.
type Period string

// The periods.
const (
	Once  Period = "once"
	Month Period = "month"
	Year  Period = "year"
)

// All lists them in their order.
func (Period) All() []Period { return []Period{Once, Month, Year} }

// Periods lists them all, in the order of slips.
var Periods = []Period{Once, Month, Year}

// Discount takes a part off an item from a quantity on; all that is picked of the
// item counts, with whatever options. Of several that fit, the one with the
// largest quantity counts.
type Discount struct {
	From    int    `json:"from" minimum:"1" maximum:"1000"`
	Percent string `json:"percent" maxLength:"10"`
}

// Together takes a part off some items from a quantity of all of them on, after
// their own discounts. Of several that fit an item, the one with the largest
// quantity counts.
type Together struct {
	Name    string   `json:"name" maxLength:"200" doc:"As the slip says it"`
	Items   []string `json:"items" minItems:"1" maxItems:"1000" nullable:"false" doc:"Keys"`
	From    int      `json:"from" minimum:"1" maximum:"10000"`
	Percent string   `json:"percent" maxLength:"10"`
}

// Surcharge adds a part of what is picked, or a fixed amount.
type Surcharge struct {
	Key     string   `json:"key" maxLength:"60"`
	Name    string   `json:"name" maxLength:"200"`
	When    string   `json:"when,omitempty" maxLength:"4000" doc:"CEL; charged when it holds"`
	Percent string   `json:"percent,omitempty" maxLength:"10" doc:"Of the items with their extras, discounts and parts of months"`
	Fixed   *Charge  `json:"fixed,omitempty" doc:"In place of a percentage: once for all that is picked"`
	Items   []string `json:"items,omitempty" maxItems:"1000" nullable:"false" doc:"Keys of the items it is for; everything picked when left out"`
}

// Tax is added to everything, item by item.
type Tax struct {
	Name    string `json:"name" maxLength:"60"`
	Percent string `json:"percent" maxLength:"10"`
}

// Term is how long something is kept, in months: fixed or from an answer.
type Term struct {
	Months   int    `json:"months,omitempty" minimum:"0" maximum:"600"`
	Question string `json:"question,omitempty" maxLength:"60" doc:"Key of a number question"`
}

// Company is the part the company pays.
type Company struct {
	Percent string `json:"percent" maxLength:"10"`
	Once    string `json:"once,omitempty" maxLength:"20" doc:"At most so much of what falls due once"`
	Monthly string `json:"monthly,omitempty" maxLength:"20"`
	Yearly  string `json:"yearly,omitempty" maxLength:"20"`
}

// CostCentres names the question whose answer says who pays: a table whose rows
// share the cost, or a question for one cost centre.
type CostCentres struct {
	Question string `json:"question" maxLength:"60" doc:"Key of a table question, or of one that asks for a cost centre"`
	Centre   string `json:"centre,omitempty" maxLength:"60" doc:"Key of the table's column with the cost centre"`
	Percent  string `json:"percent,omitempty" maxLength:"60" doc:"Key of the table's column with the share in percent; without it, or with none filled in, the shares are equal"`
}

// MaxQuantity is the most of one item that can be picked.
const MaxQuantity = 1000

// Bounds are the least and the most of an item that can be picked.
func (i Item) Bounds() (least, most int) { return max(i.Min, 1), orMost(i.Max) }

// Most is the most of an extra that can be picked.
func (x Extra) Most() int { return orMost(x.Max) }

func orMost(n int) int {
	if n == 0 {
		return MaxQuantity
	}
	return n
}

// Pick is one picked item.
type Pick struct {
	Item     string            `json:"item" maxLength:"60"`
	Quantity int               `json:"quantity" minimum:"1" maximum:"1000"`
	Options  map[string]string `json:"options,omitempty" doc:"Chosen option, by group"`
	Extras   []PickedExtra     `json:"extras,omitempty" maxItems:"100" nullable:"false"`
}

// PickedExtra is one picked accessory of an item.
type PickedExtra struct {
	Extra    string `json:"extra" maxLength:"60"`
	Quantity int    `json:"quantity" minimum:"1" maximum:"1000"`
}
