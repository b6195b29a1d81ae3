package organisation

import (
	"fmt"
	"math"
	"strconv"
)

// Colour is one of sRGB, its parts from 0 to 1.
type Colour [3]float64

// ParseColour reads a colour such as #17576B.
func ParseColour(text string) (c Colour, ok bool) {
	if len(text) != 7 || text[0] != '#' {
		return c, false
	}
	n, err := strconv.ParseUint(text[1:], 16, 32)
	for i := range c {
		c[i] = float64(n>>(16-8*i)&0xff) / 255
	}
	return c, err == nil
}

func (c Colour) String() string {
	part := func(v float64) int { return int(math.Round(v * 255)) }
	return fmt.Sprintf("#%02x%02x%02x", part(c[0]), part(c[1]), part(c[2]))
}

// luminance is the relative luminance (WCAG 2.2).
func (c Colour) luminance() float64 {
	linear := func(v float64) float64 {
		if v <= 0.04045 {
			return v / 12.92
		}
		return math.Pow((v+0.055)/1.055, 2.4)
	}
	return 0.2126*linear(c[0]) + 0.7152*linear(c[1]) + 0.0722*linear(c[2])
}

// Contrast is the contrast ratio of two colours (WCAG 2.2), from 1 to 21.
func Contrast(a, b Colour) float64 {
	one, two := a.luminance(), b.luminance()
	return (max(one, two) + 0.05) / (min(one, two) + 0.05)
}

// enough is the contrast that text needs (WCAG 2.2, 1.4.3).
const enough = 4.5

// The grounds that text in the accent colour stands on, by day and by night, the one
// it is hardest to read on first.
var (
	paper = Colour{0xf6 / 255., 0xf3 / 255., 0xea / 255.}
	night = Colour{0x14 / 255., 0x26 / 255., 0x2b / 255.}
)

// ReadOnPaper reports whether text in a colour can be read on paper and on its wash, and
// the nearest shade of it that can.
func (c Colour) ReadOnPaper() (good bool, shade Colour) {
	shade = c.towards(Colour{}, paper)
	return shade == c, shade
}

// AtNight is the shade of a colour that can be read where the page is dark.
func (c Colour) AtNight() Colour { return c.towards(Colour{1, 1, 1}, night) }

// Wash is what a colour leaves on paper where something is pointed at.
func (c Colour) Wash() Colour { return c.over(paper) }

// NightWash is the same where the page is dark; the colour is the one of the night.
func (c Colour) NightWash() Colour { return c.over(night) }

// thin is how much of a colour its wash has.
const thin = 0.12

func (c Colour) over(ground Colour) Colour {
	for i := range ground {
		ground[i] += (c[i] - ground[i]) * thin
	}
	return ground
}

// steps is in how many steps a colour is mixed with another.
const steps = 100

// towards mixes a colour with an end as little as needed to be read on a ground and on
// its wash there.
func (c Colour) towards(end, ground Colour) Colour {
	for step := range steps {
		mixed := c
		for i := range mixed {
			mixed[i] += (end[i] - c[i]) * float64(step) / steps
		}
		if written, _ := ParseColour(mixed.String()); min(Contrast(written, ground), Contrast(written, written.over(ground))) >= enough {
			if step == 0 {
				return c
			}
			return written
		}
	}
	return end
}
