package lines_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"heptad/internal/core/lines"
	"heptad/internal/core/offering"
	"heptad/internal/core/price"
)

// A price that says nothing of it falls due as is usual in the organisation.
func TestAPriceFallsDueAsIsUsual(t *testing.T) {
	for period, want := range map[price.Period]price.Period{"": price.Once, price.Month: price.Month, price.Year: price.Year} {
		got := lines.Read(lines.Items, "Fob, 2.00\nBag, 3.00 once\nSeat, 4.00 a year", lines.Around{Document: offering.New("x", "X", "s", "EUR", "UTC"), Period: period})
		assert.Equal(t, []price.Period{want, price.Once, price.Year}, []price.Period{got[0].Item.Price.Per, got[1].Item.Price.Per, got[2].Item.Price.Per}, period)
	}
}
