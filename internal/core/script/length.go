package script

import (
	"encoding/json"
	"fmt"
	"regexp"
	"strconv"
	"strings"
	"time"

	"heptad/internal/core/calendar"
)

// Length is a stretch of open time in ISO 8601, such as PT1H30M; whole days, such as P2D,
// are working days.
type Length struct{ calendar.Length }

var shape = regexp.MustCompile(`^P(?:(\d{1,4})D|T(?:(\d{1,5})H)?(?:(\d{1,6})M)?(?:(\d{1,8})S)?)$`)

// ParseLength reads one.
func ParseLength(text string) (Length, error) {
	part := shape.FindStringSubmatch(text)
	if part == nil || strings.HasSuffix(text, "T") {
		return Length{}, fmt.Errorf("%q is no length: write it like PT1H30M, or P2D for two working days", text)
	}
	number := func(i int) int {
		n, _ := strconv.Atoi(part[i]) // digits, and few; zero when left out
		return n
	}
	if part[1] != "" {
		return Length{calendar.Length{Days: number(1)}}, nil
	}
	open := time.Duration(number(2))*time.Hour + time.Duration(number(3))*time.Minute + time.Duration(number(4))*time.Second
	return Length{calendar.Length{Open: open}}, nil
}

// Lasting is an open time as a length; below a second it is none.
func Lasting(open time.Duration) Length {
	return Length{calendar.Length{Open: open.Truncate(time.Second)}}
}

// String writes what ParseLength reads.
func (l Length) String() string {
	if l.Days != 0 {
		return fmt.Sprintf("P%dD", l.Days)
	}
	seconds := int64(l.Open / time.Second)
	text := "PT"
	for _, part := range []struct {
		size int64
		unit string
	}{{3600, "H"}, {60, "M"}, {1, "S"}} {
		if n := seconds / part.size; n > 0 {
			text += strconv.FormatInt(n, 10) + part.unit
			seconds -= n * part.size
		}
	}
	if text == "PT" {
		return "PT0S"
	}
	return text
}

// UnmarshalJSON reads a text.
func (l *Length) UnmarshalJSON(data []byte) error {
	var text string
	if err := json.Unmarshal(data, &text); err != nil {
		return err
	}
	var err error
	*l, err = ParseLength(text)
	return err
}

// MarshalJSON writes a text.
func (l Length) MarshalJSON() ([]byte, error) { return json.Marshal(l.String()) }
