package measure

import (
	"fmt"
	"slices"
	"time"
)

// Plain are searches, or forms that were begun, of one department in one quarter of an hour:
// what is counted of them tells nobody's name.
type Plain struct {
	At         int64 // when the quarter began, in seconds
	Department string
	Offering   string // of forms
	Service    string
	Records    int64
	Part       int64 // of them, that are in the part of the figure
}

// CountPlain counts searches or forms, told apart by at most two sides.
func CountPlain(f *Figure, all []Plain, by []Side, q Question, c Circumstances) (Series, error) {
	from, until := q.Period.instants(c.Zone)
	of := func(side Side, x Plain) string {
		switch side {
		case ByDepartment:
			return x.Department
		case ByOffering:
			return x.Offering
		case ByService:
			return x.Service
		case ByArea:
			return c.Area(x.Service)
		}
		return ""
	}
	out := Series{Figure: f.Key, By: by, Keys: [][]string{}}
	var groups []func(Plain) int
	for _, side := range by {
		if !f.Takes(side) {
			return Series{}, fmt.Errorf("%q cannot be told apart by %s", f.Name, side.Name())
		}
		var keys []string
		if side.Timely() {
			s := slotsOf(side, q.Period, c.Zone)
			keys = s.keys
			groups = append(groups, func(x Plain) int { return int(s.at(uint32(x.At))) })
		} else {
			places := map[string]int{}
			for _, x := range all {
				if _, known := places[of(side, x)]; !known {
					places[of(side, x)] = len(keys)
					keys = append(keys, of(side, x))
				}
			}
			groups = append(groups, func(x Plain) int { return places[of(side, x)] })
		}
		out.Keys = append(out.Keys, keys)
	}
	width := 1
	for _, keys := range out.Keys {
		width *= len(keys)
	}
	if len(by) > 0 {
		out.Cells = make([]Value, width)
	}
	for _, x := range all {
		if x.At < from || x.At >= until || !c.Sight.All && !c.Sight.Services[x.Service] {
			continue
		}
		narrowed := slices.ContainsFunc(ByMonth.All(), func(side Side) bool {
			keys, is := q.Only[side]
			return is && f.Takes(side) && !slices.Contains(keys, of(side, x))
		})
		if narrowed {
			continue
		}
		count := func(v *Value) {
			v.Records += x.Records
			v.Part += x.Part
		}
		count(&out.Total)
		if len(by) > 0 {
			cell := groups[0](x)
			if len(by) == 2 {
				cell = cell*len(out.Keys[1]) + groups[1](x)
			}
			count(&out.Cells[cell])
		}
	}
	for _, v := range append([]*Value{&out.Total}, pointers(out.Cells)...) {
		if v.Records > 0 {
			v.Number = number(float64(v.Part) / float64(v.Records))
		}
	}
	return out, nil
}

func pointers(values []Value) []*Value {
	all := make([]*Value, len(values))
	for i := range values {
		all[i] = &values[i]
	}
	return all
}

// GivenUp is how long nobody touches a form that counts as given up.
const GivenUp = 14 * 24 * time.Hour
