package offering

import (
	"encoding/json"
	"reflect"
	"slices"

	"heptad/internal/core/finding"
)

// Merge brings together what two people changed since the same base. What only
// one of them changed is taken; where both changed the same thing, mine counts
// and the place is named. Lists are merged by the keys of their entries.
func Merge(base, mine, theirs Document) (Document, []string, error) {
	m := merging{}
	merged := m.value("", loose(base), loose(mine), loose(theirs))
	data, err := json.Marshal(merged)
	if err != nil {
		return Document{}, nil, err
	}
	d, err := Parse(data)
	return d, m.conflicts, err
}

// loose gives a document as JSON has it.
func loose(d Document) any {
	var v any
	data, err := json.Marshal(d)
	if err == nil {
		err = json.Unmarshal(data, &v)
	}
	if err != nil {
		panic(err) // a document is made of nothing but what JSON has
	}
	return v
}

type merging struct{ conflicts []string }

func (m *merging) value(place string, base, mine, theirs any) any {
	switch {
	case reflect.DeepEqual(mine, theirs), reflect.DeepEqual(base, theirs):
		return mine
	case reflect.DeepEqual(base, mine):
		return theirs
	}
	mineFields, ok := mine.(map[string]any)
	theirFields, ok2 := theirs.(map[string]any)
	if ok && ok2 {
		baseFields, _ := base.(map[string]any)
		return m.fields(place, baseFields, mineFields, theirFields)
	}
	mineList, ok := mine.([]any)
	theirList, ok2 := theirs.([]any)
	if ok && ok2 && keyed(mineList) && keyed(theirList) {
		baseList, _ := base.([]any)
		return m.list(place, baseList, mineList, theirList)
	}
	m.conflicts = append(m.conflicts, place)
	return mine
}

func (m *merging) fields(place string, base, mine, theirs map[string]any) map[string]any {
	out := map[string]any{}
	names := map[string]bool{}
	for name := range mine {
		names[name] = true
	}
	for name := range theirs {
		names[name] = true
	}
	sorted := make([]string, 0, len(names))
	for name := range names {
		sorted = append(sorted, name)
	}
	slices.Sort(sorted)
	for _, name := range sorted {
		if v := m.value(place+"/"+name, base[name], mine[name], theirs[name]); v != nil {
			out[name] = v
		}
	}
	return out
}

// keyed reports whether every entry of a list has a key of its own.
func keyed(list []any) bool {
	seen := map[string]bool{}
	for _, entry := range list {
		key := keyOf(entry)
		if key == "" || seen[key] {
			return false
		}
		seen[key] = true
	}
	return true
}

func keyOf(entry any) string {
	fields, _ := entry.(map[string]any)
	key, _ := fields["key"].(string)
	return key
}

func find(list []any, key string) any {
	for _, entry := range list {
		if keyOf(entry) == key {
			return entry
		}
	}
	return nil
}

// list merges entries by key, in my order; what they added stands after what
// stands before it with them.
func (m *merging) list(place string, base, mine, theirs []any) []any {
	out := []any{}
	for _, entry := range mine {
		key := keyOf(entry)
		was, there := find(base, key), find(theirs, key)
		switch {
		case there != nil:
			out = append(out, m.value(place+finding.At(len(out)), was, entry, there))
		case was == nil || !reflect.DeepEqual(was, entry): // they took out what I added or changed
			if was != nil {
				m.conflicts = append(m.conflicts, place+finding.At(len(out)))
			}
			out = append(out, entry)
		}
	}
	for i, entry := range theirs {
		key := keyOf(entry)
		was := find(base, key)
		if find(mine, key) != nil || (was != nil && reflect.DeepEqual(was, entry)) {
			continue
		}
		at := 0
		for j := i - 1; j >= 0 && at == 0; j-- {
			at = 1 + slices.IndexFunc(out, func(e any) bool { return keyOf(e) == keyOf(theirs[j]) })
		}
		if was != nil { // I took out what they changed
			m.conflicts = append(m.conflicts, place+finding.At(at))
		}
		out = slices.Insert(out, at, entry)
	}
	return out
}
