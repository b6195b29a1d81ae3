package form

import (
	"fmt"
	"math"
	"strings"
	"unicode/utf8"

	"heptad/internal/core/calendar"
	"heptad/internal/core/price"
	"heptad/internal/core/rule"
)

// parse reads an answer from JSON. It gives the value for rules and the same
// for storing, both nil when absent, and a problem when there is something but
// it is no good. Several choices are an empty list instead of absent.
func (q *question) parse(raw any) (rule.Value, any, string) {
	if raw == nil {
		if q.Kind == Choices {
			return rule.OfTexts(nil), nil, ""
		}
		return nil, nil, ""
	}
	switch q.Kind {
	case Text, LongText:
		return q.parseText(raw)
	case Number:
		return q.parseNumber(raw)
	case Date:
		return q.parseDate(raw)
	case YesNo:
		if b, ok := raw.(bool); ok {
			return rule.OfYesNo(b), b, ""
		}
	case Choice:
		return q.parseChoice(raw)
	case Choices:
		return q.parseChoices(raw)
	case Items:
		return q.parsePicks(raw)
	}
	return nil, nil, q.says("this is not an answer to the question.")
}

func (q *question) parseText(raw any) (rule.Value, any, string) {
	s, ok := raw.(string)
	if !ok {
		return nil, nil, q.says("a text is needed.")
	}
	s = strings.TrimSpace(s)
	if s == "" {
		return nil, nil, ""
	}
	limit := q.MaxLength
	if limit == 0 {
		limit = map[Kind]int{Text: maxText, LongText: maxLongText}[q.Kind]
	}
	if n := utf8.RuneCountInString(s); n > limit {
		return nil, nil, q.says(fmt.Sprintf("at most %d characters; there are %d.", limit, n))
	}
	if !utf8.ValidString(s) {
		return nil, nil, q.says("there are characters in it that are no text.")
	}
	return rule.OfText(s), s, ""
}

func (q *question) parseNumber(raw any) (rule.Value, any, string) {
	f, ok := raw.(float64)
	if !ok || math.IsNaN(f) || math.Abs(f) > maxNumberWidth {
		return nil, nil, q.says("a number is needed.")
	}
	return rule.OfNumber(f), f, ""
}

func (q *question) parseDate(raw any) (rule.Value, any, string) {
	s, ok := raw.(string)
	if !ok {
		return nil, nil, q.says("a date is needed.")
	}
	if s == "" {
		return nil, nil, ""
	}
	d, err := calendar.ParseDate(s)
	if err != nil {
		return nil, nil, q.says("") + err.Error() + "."
	}
	return rule.OfDate(d), s, ""
}

func (q *question) parseChoice(raw any) (rule.Value, any, string) {
	s, ok := raw.(string)
	if ok && s == "" {
		return nil, nil, ""
	}
	if _, known := q.labels[s]; !known {
		return nil, nil, q.says("this choice is not offered, or no longer.")
	}
	return rule.OfText(s), s, ""
}

func (q *question) parseChoices(raw any) (rule.Value, any, string) {
	list, ok := texts(raw)
	if !ok {
		return rule.OfTexts(nil), nil, q.says("a list of choices is needed.")
	}
	chosen := map[string]bool{}
	for _, s := range list {
		if _, known := q.labels[s]; !known {
			return rule.OfTexts(nil), nil, q.says("one of the choices is not offered, or no longer.")
		}
		chosen[s] = true
	}
	kept := []string{} // in the order of the question, each once
	for _, o := range q.Choices {
		if chosen[o.Key] {
			kept = append(kept, o.Key)
		}
	}
	if len(kept) == 0 {
		return rule.OfTexts(nil), nil, ""
	}
	return rule.OfTexts(kept), kept, ""
}

// texts reads a list of texts, from JSON or from Go.
func texts(raw any) ([]string, bool) {
	if list, ok := raw.([]string); ok {
		return list, true
	}
	list, ok := raw.([]any)
	out := make([]string, len(list))
	for i, element := range list {
		s, isText := element.(string)
		out[i], ok = s, ok && isText
	}
	return out, ok
}

func (q *question) parsePicks(raw any) (rule.Value, any, string) {
	picks, ok := picksOf(raw)
	if !ok {
		return nil, nil, q.says("a list of items with quantities is needed.")
	}
	seen := map[string]bool{}
	records := make([]rule.Record, len(picks))
	for i, p := range picks {
		if _, known := q.labels[p.Item]; !known || seen[p.Item] {
			return nil, nil, q.says("one of the items is not offered here, or no longer.")
		}
		if p.Quantity < 1 || p.Quantity > price.MaxQuantity {
			return nil, nil, q.says(fmt.Sprintf("from 1 to %d of an item can be picked.", price.MaxQuantity))
		}
		seen[p.Item] = true
		records[i] = rule.Record{"item": rule.OfText(p.Item), "quantity": rule.OfCount(p.Quantity)}
	}
	if len(picks) == 0 {
		return nil, nil, ""
	}
	return rule.OfRecords("pick", records), picks, ""
}

// picksOf reads picks, from JSON or from Go.
func picksOf(raw any) ([]price.Pick, bool) {
	if picks, ok := raw.([]price.Pick); ok {
		return picks, true
	}
	list, ok := raw.([]any)
	picks := make([]price.Pick, len(list))
	for i, element := range list {
		entry, isObject := element.(map[string]any)
		item, isText := entry["item"].(string)
		quantity, isNumber := entry["quantity"].(float64)
		ok = ok && isObject && isText && isNumber && quantity == math.Trunc(quantity) && math.Abs(quantity) <= 1e9
		picks[i] = price.Pick{Item: item, Quantity: int(quantity)}
	}
	return picks, ok
}

// says puts the label of the question before what is wrong with its answer.
func (q *question) says(what string) string {
	if strings.HasSuffix(q.Label, "?") || strings.HasSuffix(q.Label, ".") || strings.HasSuffix(q.Label, "!") {
		return q.Label + " " + strings.ToUpper(what[:1]) + what[1:]
	}
	return q.Label + ": " + what
}
