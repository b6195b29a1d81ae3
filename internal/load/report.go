package load

import (
	"fmt"
	"io"
	"time"
)

// verdict says whether an aim is reached.
func verdict(ok bool) string {
	if ok {
		return "pass"
	}
	return "SHORT"
}

// Report prints what changes cost, and whether that is within the aims.
func (c Crowd) Report(w io.Writer) {
	fmt.Fprintf(w, "%d tabs listen\n", c.Listening)
	fmt.Fprintf(w, "a request sent, told to %d tabs: %.0f ms of CPU (under %.0f)  %s\n", c.Told, ms(c.Change), ms(mostChange), verdict(c.Change < mostChange))
	fmt.Fprintf(w, "read anew by 95 of 100 after %.0f ms (under %.0f)  %s\n", ms(c.Fresh), ms(mostStale), verdict(c.Fresh < mostStale))
	fmt.Fprintf(w, "an absence: %.0f ms of CPU (under %.0f)  %s\n", ms(c.Absence), ms(mostAbsence), verdict(c.Absence < mostAbsence))
}

// ReportWriting prints what acts take, and whether that is within the aims.
func ReportWriting(w io.Writer, all []Writing) {
	last, first := all[len(all)-1], all[0]
	fmt.Fprintf(w, "%-32s", "ms on the clock an act at")
	for _, r := range all {
		fmt.Fprintf(w, "%12d", r.Requests)
	}
	fmt.Fprintf(w, "%10s %8s %8s\n", "bare", "growth", "bares")
	for _, act := range acts {
		fmt.Fprintf(w, "%-32s", act)
		for _, r := range all {
			fmt.Fprintf(w, "%12.2f", ms(r.Acts[act]))
		}
		growth, bares := float64(last.Acts[act])/float64(first.Acts[act]), float64(last.Acts[act])/float64(last.Bare[act])
		ok := growth < mostWriting && bares < mostWriting
		if act == "submit" {
			ok = growth < mostWriting // how many a second says more
		}
		fmt.Fprintf(w, "%10.2f %8.2f %8.2f  %s\n", ms(last.Bare[act]), growth, bares, verdict(ok))
	}
	fmt.Fprintf(w, "a submission writes %d rows, %d bytes of values\n", last.Rows, last.Bytes)
	fmt.Fprintf(w, "submissions by 8: %.0f a second; by 64: %.0f (not fewer)  %s\n", last.Eight, last.SixtyFour, verdict(last.SixtyFour >= 0.95*last.Eight))
	fmt.Fprintf(w, "their rows by bare SQLite: %.0f a second, of which %.2f (%.2f)  %s\n", last.BareRate, last.SixtyFour/last.BareRate, leastSending, verdict(last.SixtyFour >= leastSending*last.BareRate))
	fmt.Fprintf(w, "reads by 64 beside 60 submissions: %.0f a second (600)  %s\n", last.Reads, verdict(last.Reads >= leastReads))
}

func ms(d time.Duration) float64 { return float64(d.Microseconds()) / 1000 }

// Report prints what calls cost on folders, the smallest first, and whether that is within
// the aims.
func Report(w io.Writer, all []Reading) {
	last, first := all[len(all)-1], all[0]
	fmt.Fprintf(w, "%-32s", "µs of server CPU a call at")
	for _, r := range all {
		fmt.Fprintf(w, "%12d", r.Requests)
	}
	fmt.Fprintf(w, "%10s %8s %8s\n", "bytes", "growth", "floors")
	for k, name := range map[kind]string{list: "floor: fifty lines", constant: "floor: a constant"} {
		fmt.Fprintf(w, "%-32s", name)
		for _, r := range all {
			fmt.Fprintf(w, "%12d", r.Floor[k].Microseconds())
		}
		fmt.Fprintln(w)
	}
	for _, c := range calls {
		at, ok := last.Calls[c.name]
		if !ok {
			continue
		}
		fmt.Fprintf(w, "%-32s", c.name)
		for _, r := range all {
			fmt.Fprintf(w, "%12d", r.Calls[c.name].Microseconds())
		}
		growth := float64(at) / float64(max(first.Calls[c.name], time.Microsecond))
		ok = at < mostTime && (growth < mostGrowth || last.Sizes[c.name] > 2*first.Sizes[c.name])
		fmt.Fprintf(w, "%10d %8.2f", last.Sizes[c.name], growth)
		if c.kind == other {
			fmt.Fprintf(w, " %8s", "")
		} else {
			times := float64(at) / float64(last.Floor[c.kind])
			ok = ok && times < c.kind.most()
			fmt.Fprintf(w, " %8.1f", times)
		}
		fmt.Fprintf(w, "  %s\n", verdict(ok))
	}
	fmt.Fprintf(w, "%-32s%12.2f s (under 1)  %s\n", "start", last.Start.Seconds(), verdict(last.Start < time.Second))
	fmt.Fprintf(w, "%-32s%12.2f s (under 2)  %s\n", "stop", last.Stop.Seconds(), verdict(last.Stop < 2*time.Second))
	fmt.Fprintf(w, "%-32s%12d MB (under 600)  %s\n", "memory", last.Memory>>20, verdict(last.Memory < 600<<20))
}
