package organisation_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"heptad/internal/core/organisation"
	"heptad/internal/core/price"
	"heptad/internal/core/refusal"
)

func TestCheck(t *testing.T) {
	good := organisation.Organisation{Name: "Halvorsen-Ito Greenhouses", Prefix: "HG", Currency: "DKK", Period: price.Month, Accent: "#2f6b3a"}
	assert.Empty(t, good.Check())
	for code, alter := range map[string]func(o *organisation.Organisation){
		refusal.Name: func(o *organisation.Organisation) { o.Name = " " }, refusal.Prefix: func(o *organisation.Organisation) { o.Prefix = "H-G" },
		refusal.Currency: func(o *organisation.Organisation) { o.Currency = "kr" }, refusal.Period: func(o *organisation.Organisation) { o.Period = "week" },
		refusal.Colour: func(o *organisation.Organisation) { o.Accent = "green" }, refusal.Emblem: func(o *organisation.Organisation) { o.Emblem = "https://elsewhere.example/e.png" },
	} {
		o := good
		alter(&o)
		problems := o.Check()
		require.Len(t, problems, 1, code)
		assert.Equal(t, code, problems[0].Code)
	}
	pale := good
	pale.Accent = "#ffcc00"
	assert.Equal(t, "#ffcc00 is too pale to be read on paper: its contrast is 1.4 to 1, and 4.5 is needed. #7a6200 would do.", pale.Check()[0].Sentence)
}

// Contrast by the examples of WCAG: black on white, a colour on itself, and #767676,
// the lightest grey that passes on white.
func TestContrast(t *testing.T) {
	of := func(text string) organisation.Colour {
		c, ok := organisation.ParseColour(text)
		require.True(t, ok)
		return c
	}
	for _, c := range []struct {
		one, two string
		want     float64
	}{{"#000000", "#ffffff", 21}, {"#17576b", "#17576b", 1}, {"#767676", "#ffffff", 4.54}, {"#ff0000", "#000000", 5.25}} {
		assert.InDelta(t, c.want, organisation.Contrast(of(c.one), of(c.two)), 0.005, c.one)
		assert.InDelta(t, c.want, organisation.Contrast(of(c.two), of(c.one)), 0.005, c.one)
	}
	for _, text := range []string{"", "17576b", "#17576", "#17576g", "#+1576b"} {
		_, ok := organisation.ParseColour(text)
		assert.False(t, ok, text)
	}
}

// Whatever colour is chosen, the shades that are used for it can be read.
func TestShadesCanBeRead(t *testing.T) {
	paper, _ := organisation.ParseColour("#f6f3ea")
	night, _ := organisation.ParseColour("#14262b")
	rapid.Check(t, func(t *rapid.T) {
		c := organisation.Colour{}
		for i := range c {
			c[i] = float64(rapid.IntRange(0, 255).Draw(t, "part")) / 255
		}
		good, shade := c.ReadOnPaper()
		assert.GreaterOrEqual(t, organisation.Contrast(shade, paper), 4.5)
		assert.GreaterOrEqual(t, organisation.Contrast(shade, shade.Wash()), 4.5)
		assert.Equal(t, good, min(organisation.Contrast(c, paper), organisation.Contrast(c, c.Wash())) >= 4.5)
		written, _ := organisation.ParseColour(c.AtNight().String())
		assert.GreaterOrEqual(t, organisation.Contrast(written, night), 4.5)
		assert.GreaterOrEqual(t, organisation.Contrast(written, written.NightWash()), 4.5)
	})
}
