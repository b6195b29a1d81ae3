package money_test

import (
	"encoding/json"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"heptad/internal/core/money"
)

func TestParse(t *testing.T) {
	for _, c := range []struct {
		text, code string
		minor      int64
		decimal    string
	}{
		{"12.50", "EUR", 1250, "12.50"},
		{"12.5", "EUR", 1250, "12.50"},
		{"12", "EUR", 1200, "12.00"},
		{"0.05", "EUR", 5, "0.05"},
		{"-3.20", "EUR", -320, "-3.20"},
		{"-0.07", "EUR", -7, "-0.07"},
		{"450", "JPY", 450, "450"},
		{"1.234", "BHD", 1234, "1.234"},
		{"1000000000", "EUR", money.Limit, "1000000000.00"},
	} {
		got, err := money.Parse(c.text, c.code)
		require.NoError(t, err, c.text)
		assert.Equal(t, c.minor, got.Minor(), c.text)
		assert.Equal(t, c.decimal, got.Decimal(), c.text)
	}
}

func TestParseRefuses(t *testing.T) {
	for _, c := range []struct{ text, code string }{
		{"", "EUR"}, {".", "EUR"}, {"1.", "EUR"}, {"1.234", "EUR"}, {"1.0", "JPY"},
		{"1,50", "EUR"}, {"--1", "EUR"}, {"+1", "EUR"}, {"1e3", "EUR"}, {" 1", "EUR"},
		{"1000000000.01", "EUR"}, {"99999999999999999999", "EUR"}, {"1.00", "eur"}, {"1.00", "XYZW"},
	} {
		_, err := money.Parse(c.text, c.code)
		assert.Error(t, err, "%q %s", c.text, c.code)
	}
}

func TestMixingCurrenciesIsRefused(t *testing.T) {
	euro, _ := money.Parse("1.00", "EUR")
	krone, _ := money.Parse("1.00", "NOK")
	_, err := euro.Plus(krone)
	assert.ErrorIs(t, err, money.ErrCurrency)
	_, err = euro.Compare(krone)
	assert.ErrorIs(t, err, money.ErrCurrency)
}

func TestAmountSurvivesJSON(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		code := rapid.SampledFrom([]string{"EUR", "JPY", "BHD", "NOK"}).Draw(t, "currency")
		n := rapid.Int64Range(-money.Limit, money.Limit).Draw(t, "minor")
		digits, err := money.Digits(code)
		require.NoError(t, err)
		one, err := money.Parse(map[int]string{0: "1", 2: "0.01", 3: "0.001"}[digits], code)
		require.NoError(t, err)
		amount := one.Times(n)
		data, err := json.Marshal(amount)
		require.NoError(t, err)
		var back money.Amount
		require.NoError(t, json.Unmarshal(data, &back))
		assert.Equal(t, amount, back)
		parsed, err := money.Parse(amount.Decimal(), code)
		require.NoError(t, err)
		assert.Equal(t, amount, parsed)
	})
}
