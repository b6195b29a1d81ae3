package rule

import (
	"errors"
	"time"

	"cel.dev/cel-go/cel"
	"cel.dev/cel-go/common/operators"
	"cel.dev/cel-go/common/types"
	"cel.dev/cel-go/common/types/ref"
	"cel.dev/cel-go/common/types/traits"

	"heptad/internal/core/calendar"
	"heptad/internal/core/money"
)

// Function is one that rules can call, as it is offered while a rule is typed.
type Function struct {
	Name  string // with what it takes
	Words string
	Gives Type
}

// Functions lists what rules can call beside CEL's own.
var Functions = []Function{
	{"workdays(from, until)", "Working days after the one up to the other", Count},
	{"addWorkdays(date, n)", "So many working days later, or earlier", DateT},
	{"days(from, until)", "Days from the one to the other", Count},
	{"addDays(date, n)", "So many days later, or earlier", DateT},
	{"date(\"2027-03-12\")", "A date from a text or an instant", DateT},
	{"year(date)", "The year", Count},
	{"month(date)", "The month, from 1 to 12", Count},
	{"day(date)", "The day of the month", Count},
	{"weekday(date)", "The day of the week: 1 is Monday, 7 is Sunday", Count},
	{"money(\"12.50\")", "A sum of the offering's currency", MoneyT},
	{"sum(list)", "Numbers or sums added up, such as sum(answers.rows.map(r, r.count))", Number},
	{"string(value)", "A date, a sum or a number as a text", Text},
	{"has(answers.key)", "Whether it is answered", YesNo},
	{"list.exists(x, x == \"a\")", "Whether it holds for any of a list", YesNo},
	{"list.all(x, x != \"a\")", "Whether it holds for all of a list", YesNo},
	{"size(list)", "How many there are, or characters of a text", Count},
}

// functions are what rules can call beside CEL's own: dates, working days,
// money and sums (docs/offering-format.md lists them).
func functions(scope Scope) []cel.EnvOption {
	work := scope.Calendar
	if work == nil {
		work = calendar.Plain(time.UTC)
	}
	options := []cel.EnvOption{
		cel.Function("date",
			cel.Overload("date_string", []Type{cel.StringType}, DateT, cel.UnaryBinding(dateOf)),
			cel.Overload("date_timestamp", []Type{cel.TimestampType}, DateT, cel.UnaryBinding(func(v ref.Val) ref.Val {
				return OfDate(calendar.DateOf(v.(types.Timestamp).In(work.Zone())))
			}))),
		cel.Function("money", cel.Overload("money_string", []Type{cel.StringType}, MoneyT, cel.UnaryBinding(moneyOf(scope.Currency)))),
		cel.Function("workdays", cel.Overload("workdays_dates", []Type{DateT, DateT}, cel.IntType, cel.BinaryBinding(workdays(work)))),
		cel.Function("addWorkdays", cel.Overload("add_workdays", []Type{DateT, cel.IntType}, DateT, cel.BinaryBinding(addWorkdays(work)))),
		cel.Function("days", cel.Overload("days_dates", []Type{DateT, DateT}, cel.IntType, cel.BinaryBinding(days))),
		cel.Function("addDays", cel.Overload("add_days", []Type{DateT, cel.IntType}, DateT, cel.BinaryBinding(addDays))),
		cel.Function("sum",
			cel.Overload("sum_numbers", []Type{cel.ListType(cel.DoubleType)}, cel.DoubleType, cel.UnaryBinding(sumOf(types.Double(0)))),
			cel.Overload("sum_counts", []Type{cel.ListType(cel.IntType)}, cel.IntType, cel.UnaryBinding(sumOf(types.Int(0)))),
			cel.Overload("sum_money", []Type{cel.ListType(MoneyT)}, MoneyT, cel.UnaryBinding(sumOf(OfMoney(money.Zero(scope.Currency)))))),
		ofDate("year", func(d calendar.Date) int { return d.Year() }),
		ofDate("month", func(d calendar.Date) int { return int(d.Month()) }),
		ofDate("day", func(d calendar.Date) int { return d.Day() }),
		ofDate("weekday", calendar.Date.ISOWeekday),
		cel.Function("string",
			cel.Overload("date_to_string", []Type{DateT}, Text, cel.UnaryBinding(inText)),
			cel.Overload("money_to_string", []Type{MoneyT}, Text, cel.UnaryBinding(inText))),
		// No bindings: operators call the methods of the values.
		cel.Function(operators.Add, cel.Overload("add_money", []Type{MoneyT, MoneyT}, MoneyT)),
		cel.Function(operators.Subtract, cel.Overload("subtract_money", []Type{MoneyT, MoneyT}, MoneyT)),
		cel.Function(operators.Multiply,
			cel.Overload("multiply_money", []Type{MoneyT, cel.IntType}, MoneyT),
			cel.Overload("multiply_money_number", []Type{MoneyT, cel.DoubleType}, MoneyT)),
	}
	for name, operator := range map[string]string{"less": operators.Less, "less_equals": operators.LessEquals, "greater": operators.Greater, "greater_equals": operators.GreaterEquals} {
		options = append(options, cel.Function(operator,
			cel.Overload(name+"_date", []Type{DateT, DateT}, cel.BoolType),
			cel.Overload(name+"_money", []Type{MoneyT, MoneyT}, cel.BoolType)))
	}
	return options
}

// ofDate is a function of a date that gives a whole number, such as year(d) or
// d.year().
func ofDate(name string, of func(calendar.Date) int) cel.EnvOption {
	binding := cel.UnaryBinding(func(v ref.Val) ref.Val { return types.Int(of(v.(dateValue).Date)) })
	return cel.Function(name,
		cel.Overload(name+"_of_date", []Type{DateT}, cel.IntType, binding),
		cel.MemberOverload("date_"+name, []Type{DateT}, cel.IntType, binding))
}

func inText(v ref.Val) ref.Val { return v.ConvertToType(types.StringType) }

func dateOf(v ref.Val) ref.Val {
	d, err := calendar.ParseDate(string(v.(types.String)))
	if err != nil {
		return types.WrapErr(err)
	}
	return OfDate(d)
}

func moneyOf(currency string) func(ref.Val) ref.Val {
	return func(v ref.Val) ref.Val {
		a, err := money.Parse(string(v.(types.String)), currency)
		if err != nil {
			return types.WrapErr(err)
		}
		return OfMoney(a)
	}
}

func workdays(work *calendar.Calendar) func(a, b ref.Val) ref.Val {
	return func(a, b ref.Val) ref.Val {
		n, err := work.Workdays(a.(dateValue).Date, b.(dateValue).Date)
		if err != nil {
			return types.WrapErr(err)
		}
		return types.Int(n)
	}
}

var errFarAway = errors.New("at most 10,000 days can be added or taken away")

func addWorkdays(work *calendar.Calendar) func(d, n ref.Val) ref.Val {
	return func(d, n ref.Val) ref.Val {
		days := n.(types.Int)
		if days < -10_000 || days > 10_000 {
			return types.WrapErr(errFarAway)
		}
		to, err := work.AddWorkdays(d.(dateValue).Date, int(days))
		if err != nil {
			return types.WrapErr(err)
		}
		return OfDate(to)
	}
}

// days counts the days from a to b, of any kind; negative when b is before a.
func days(a, b ref.Val) ref.Val {
	return types.Int(b.(dateValue).Since(a.(dateValue).Date))
}

func addDays(d, n ref.Val) ref.Val {
	days := n.(types.Int)
	if days < -10_000 || days > 10_000 {
		return types.WrapErr(errFarAway)
	}
	return OfDate(d.(dateValue).AddDays(int(days)))
}

func sumOf(zero ref.Val) func(ref.Val) ref.Val {
	return func(list ref.Val) ref.Val {
		total := zero
		for it := list.(traits.Lister).Iterator(); it.HasNext() == types.True; {
			total = total.(traits.Adder).Add(it.Next())
			if types.IsError(total) {
				return total
			}
		}
		return total
	}
}
