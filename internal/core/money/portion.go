package money

import (
	"cmp"
	"errors"
	"fmt"
	"math/big"
	"slices"
	"strings"
)

// Portion multiplies by a ratio and rounds half away from zero to whole minor
// units (rules.md 3).
func (a Amount) Portion(ratio *big.Rat) Amount {
	exact := new(big.Rat).Mul(new(big.Rat).SetInt64(a.minor), ratio)
	doubled := new(big.Int).Mul(exact.Num(), big.NewInt(2))
	if exact.Sign() >= 0 {
		doubled.Add(doubled, exact.Denom())
	} else {
		doubled.Sub(doubled, exact.Denom())
	}
	minor := doubled.Quo(doubled, new(big.Int).Mul(exact.Denom(), big.NewInt(2)))
	return Amount{minor: minor.Int64(), currency: a.currency}
}

// In gives the sum in another currency, at so many of its whole units for one
// whole unit of this one.
func (a Amount) In(code string, rate *big.Rat) (Amount, error) {
	from, err := Digits(a.currency)
	if err != nil {
		return Amount{}, err
	}
	to, err := Digits(code)
	if err != nil {
		return Amount{}, err
	}
	scaled := new(big.Rat).Mul(rate, new(big.Rat).SetFrac(power(to), power(from)))
	return Amount{minor: a.Portion(scaled).minor, currency: code}, nil
}

func power(digits int) *big.Int {
	return new(big.Int).Exp(big.NewInt(10), big.NewInt(int64(digits)), nil)
}

// Split shares a sum by weights that make one: whole minor units by largest
// remainder, ties to the first named. The parts always make the sum.
func (a Amount) Split(weights []*big.Rat) []Amount {
	parts := make([]Amount, len(weights))
	rest := make([]*big.Rat, len(weights))
	left := a.minor
	for i, w := range weights {
		exact := new(big.Rat).Mul(new(big.Rat).SetInt64(a.minor), w)
		whole := new(big.Int).Quo(exact.Num(), exact.Denom()) // towards zero
		parts[i] = Amount{minor: whole.Int64(), currency: a.currency}
		rest[i] = exact.Sub(exact, new(big.Rat).SetInt(whole))
		rest[i].Abs(rest[i])
		left -= parts[i].minor
	}
	order := make([]int, len(weights))
	for i := range order {
		order[i] = i
	}
	slices.SortStableFunc(order, func(i, j int) int { return cmp.Compare(rest[j].Cmp(rest[i]), 0) })
	step := int64(1)
	if left < 0 {
		step = -1
	}
	for k := 0; left != 0 && len(order) > 0; k++ {
		parts[order[k%len(order)]].minor += step
		left -= step
	}
	return parts
}

// ErrDecimal says that a text is no plain decimal number.
var ErrDecimal = errors.New("write a number such as 12.5")

// Decimal reads a number such as "12.5", with at most places decimal places,
// from 0 to most. It is exact.
func Decimal(text string, places int, most int64) (*big.Rat, error) {
	whole, fraction, dotted := strings.Cut(text, ".")
	if !decimal(whole) || (dotted && !decimal(fraction)) || len(whole) > 12 {
		return nil, fmt.Errorf("%q is no number: %w", text, ErrDecimal)
	}
	if len(fraction) > places {
		return nil, fmt.Errorf("%q has more than %d decimal places", text, places)
	}
	r, _ := new(big.Rat).SetString(text)
	if r.Cmp(new(big.Rat).SetInt64(most)) > 0 {
		return nil, fmt.Errorf("%q is more than %d", text, most)
	}
	return r, nil
}

// Percent reads a percentage such as "7.5", from 0 to 100 with at most four
// decimal places, as a ratio.
func Percent(text string) (*big.Rat, error) {
	r, err := Decimal(text, 4, 100)
	if err != nil {
		return nil, err
	}
	return r.Quo(r, big.NewRat(100, 1)), nil
}
