package money_test

import (
	"math/big"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"heptad/internal/core/money"
)

func amount(t require.TestingT, text, code string) money.Amount {
	a, err := money.Parse(text, code)
	require.NoError(t, err)
	return a
}

// Worked by hand: half a minor unit goes away from zero.
func TestPortionRoundsHalfAwayFromZero(t *testing.T) {
	for _, c := range []struct{ sum, percent, want string }{
		{"10.00", "7.5", "0.75"}, {"0.10", "5", "0.01"}, {"-0.10", "5", "-0.01"}, {"0.10", "4.9999", "0.00"},
		{"99.99", "23", "23.00"}, {"0.30", "15", "0.05"}, {"100.00", "0", "0.00"}, {"33.33", "100", "33.33"},
	} {
		p, err := money.Percent(c.percent)
		require.NoError(t, err)
		assert.Equal(t, c.want, amount(t, c.sum, "EUR").Portion(p).Decimal(), c)
	}
}

func TestPercentRefuses(t *testing.T) {
	for _, text := range []string{"", "-1", "100.1", "1.23456", "ten", "5.", ".5", "1e1", "١"} {
		_, err := money.Percent(text)
		assert.Error(t, err, text)
	}
}

// Worked by hand, between currencies with two places and with none.
func TestIn(t *testing.T) {
	for _, c := range []struct{ sum, from, rate, to, want string }{
		{"1200.00", "NOK", "0.0861", "EUR", "103.32"}, {"1.00", "EUR", "162.5", "JPY", "163"},
		{"163", "JPY", "0.0061", "EUR", "0.99"}, {"0.01", "NOK", "0.5", "EUR", "0.01"},
	} {
		rate, _ := new(big.Rat).SetString(c.rate)
		got, err := amount(t, c.sum, c.from).In(c.to, rate)
		require.NoError(t, err)
		assert.Equal(t, c.want, got.Decimal(), c)
	}
}

// Worked by hand: largest remainder, ties to the first named.
func TestSplit(t *testing.T) {
	for _, c := range []struct {
		sum     string
		weights []int64 // percent
		want    []string
	}{
		{"100.00", []int64{50, 50}, []string{"50.00", "50.00"}},
		{"0.01", []int64{50, 50}, []string{"0.01", "0.00"}},
		{"0.05", []int64{33, 33, 34}, []string{"0.02", "0.01", "0.02"}},
		{"10.00", []int64{1, 99}, []string{"0.10", "9.90"}},
		{"0.10", []int64{15, 15, 70}, []string{"0.02", "0.01", "0.07"}},
		{"-0.01", []int64{50, 50}, []string{"-0.01", "0.00"}},
		{"7.77", []int64{100}, []string{"7.77"}},
	} {
		weights := make([]*big.Rat, len(c.weights))
		for i, w := range c.weights {
			weights[i] = big.NewRat(w, 100)
		}
		var got []string
		for _, part := range amount(t, c.sum, "EUR").Split(weights) {
			got = append(got, part.Decimal())
		}
		assert.Equal(t, c.want, got, c)
	}
}

func TestSplitMakesTheSum(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		shares := rapid.SliceOfN(rapid.Int64Range(1, 1000), 1, 9).Draw(t, "shares")
		var all int64
		for _, s := range shares {
			all += s
		}
		weights := make([]*big.Rat, len(shares))
		for i, s := range shares {
			weights[i] = big.NewRat(s, all)
		}
		sum := money.Zero("EUR")
		whole := amount(t, "0.01", "EUR").Times(rapid.Int64Range(-1e9, 1e9).Draw(t, "minor"))
		for i, part := range whole.Split(weights) {
			exact := new(big.Rat).Mul(big.NewRat(whole.Minor(), 1), weights[i])
			off := exact.Sub(exact, big.NewRat(part.Minor(), 1))
			assert.True(t, off.Abs(off).Cmp(big.NewRat(1, 1)) < 0, "a part is off by a minor unit or more")
			sum, _ = sum.Plus(part)
		}
		assert.Equal(t, whole, sum)
	})
}
