package rule

// Way is one way in which a condition compares facts of a sort.
type Way struct {
	Compare string `json:"compare" enum:"is,isNot,oneOf,notOneOf,beginsWith,contains,anyOf,noneOf,allOf,picks,picksNone,less,atMost,more,atLeast,within,answered,unanswered,some,none"`
	Words   string `json:"words"`
	Values  string `json:"values" enum:"none,one,many" doc:"How many it compares with"`
	Facts   bool   `json:"facts,omitempty" doc:"It can compare with another fact of the sort, too"`
}

// Sort is a sort of facts that conditions compare in the same ways.
type Sort struct {
	Key  string `json:"key" enum:"choice,choices,items,yesNo,date,number,money,text,list,other"`
	As   string `json:"as" enum:"text,number,money,date,yesNo" doc:"What the values are"`
	Ways []Way  `json:"ways" nullable:"false" doc:"The first is what one begins with"`
}

// Sorts lists the sorts of facts with the ways to compare them, in the words of
// sentences.
func Sorts() []Sort {
	sorts := []Sort{
		sortOf("choice", "text", "is", "isNot", "oneOf", "notOneOf", "answered", "unanswered"),
		sortOf("choices", "text", "anyOf", "allOf", "noneOf", "some", "none"),
		sortOf("items", "text", "picks", "picksNone", "answered", "unanswered"),
		sortOf("yesNo", "yesNo", "is", "answered", "unanswered"),
		sortOf("date", "date", "atLeast", "less", "more", "atMost", "is", "within", "answered", "unanswered"),
		sortOf("number", "number", "is", "isNot", "less", "atMost", "more", "atLeast", "answered", "unanswered"),
		sortOf("money", "money", "more", "atLeast", "less", "atMost", "answered", "unanswered"),
		sortOf("text", "text", "is", "isNot", "beginsWith", "contains", "oneOf", "answered", "unanswered"),
		sortOf("list", "text", "some", "none"),
		sortOf("other", "text", "answered", "unanswered"),
	}
	return sorts
}

// alike are the sorts of which one fact can be compared with another.
var alike = map[string]bool{"date": true, "number": true, "money": true, "choice": true, "text": true}

func sortOf(key, as string, compares ...string) Sort {
	s := Sort{Key: key, As: as}
	for _, compare := range compares {
		shape := shapes[compare]
		words := shape.words
		if as == "date" && shape.dates != "" {
			words = shape.dates
		}
		s.Ways = append(s.Ways, Way{compare, words, [...]string{"none", "one", "many"}[shape.values], ofFacts[compare] && alike[key]})
	}
	return s
}
