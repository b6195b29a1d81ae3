package money

import (
	"encoding/json"
	"errors"
	"fmt"
	"strconv"
	"strings"

	"golang.org/x/text/currency"
)

// Limit is the largest size of a parsed amount, in minor units. It leaves room
// to multiply by any allowed quantity and by twelve months without overflow.
const Limit = 100_000_000_000

// Amount is a sum of money in one currency. The zero Amount has no currency
// and stands for "no price at all".
type Amount struct {
	minor    int64
	currency string
}

// ErrCurrency says that two amounts of different currencies were mixed.
var ErrCurrency = errors.New("amounts of different currencies")

// Zero is nothing, in the given ISO 4217 currency.
func Zero(code string) Amount { return Amount{currency: code} }

// Digits gives the number of decimal places of an ISO 4217 currency (2 for
// EUR, 0 for JPY), or an error when the code is not one.
func Digits(code string) (int, error) {
	unit, err := currency.ParseISO(code)
	if err != nil || unit.String() != code {
		return 0, fmt.Errorf("%q is not a currency code of ISO 4217, such as EUR", code)
	}
	scale, _ := currency.Standard.Rounding(unit)
	return scale, nil
}

// Parse reads a decimal number such as "12.50" as an amount of the currency.
// It refuses more decimal places than the currency has, signs other than a
// leading minus, and sums beyond Limit.
func Parse(text, code string) (Amount, error) {
	digits, err := Digits(code)
	if err != nil {
		return Amount{}, err
	}
	whole, fraction, _ := strings.Cut(strings.TrimPrefix(text, "-"), ".")
	if len(fraction) > digits || !decimal(whole) || (fraction != "" && !decimal(fraction)) || strings.HasSuffix(text, ".") {
		return Amount{}, fmt.Errorf("%q is not a sum of money in %s: write it like %s", text, code, example(digits))
	}
	minor, err := strconv.ParseInt(whole+fraction+strings.Repeat("0", digits-len(fraction)), 10, 64)
	if err != nil || minor > Limit {
		return Amount{}, fmt.Errorf("%q is more money than can be asked for", text)
	}
	if strings.HasPrefix(text, "-") {
		minor = -minor
	}
	return Amount{minor: minor, currency: code}, nil
}

func decimal(s string) bool {
	return s != "" && strings.Trim(s, "0123456789") == ""
}

func example(digits int) string {
	if digits == 0 {
		return "45"
	}
	return "45." + strings.Repeat("0", digits)
}

// Of is an amount of so many minor units of a currency.
func Of(minor int64, code string) Amount { return Amount{minor: minor, currency: code} }

// Currency is the ISO 4217 code.
func (a Amount) Currency() string { return a.currency }

// Minor is the sum in minor units, for instance cents.
func (a Amount) Minor() int64 { return a.minor }

// IsZero reports whether nothing is to be paid.
func (a Amount) IsZero() bool { return a.minor == 0 }

// Plus adds two amounts of one currency.
func (a Amount) Plus(b Amount) (Amount, error) {
	if a.currency != b.currency {
		return Amount{}, ErrCurrency
	}
	return Amount{minor: a.minor + b.minor, currency: a.currency}, nil
}

// Times multiplies by a whole number.
func (a Amount) Times(n int64) Amount {
	return Amount{minor: a.minor * n, currency: a.currency}
}

// Compare gives -1, 0 or 1, or ErrCurrency.
func (a Amount) Compare(b Amount) (int, error) {
	switch {
	case a.currency != b.currency:
		return 0, ErrCurrency
	case a.minor < b.minor:
		return -1, nil
	case a.minor > b.minor:
		return 1, nil
	}
	return 0, nil
}

// Decimal is the sum as a decimal number with all places of the currency,
// such as "12.50".
func (a Amount) Decimal() string {
	digits, err := Digits(a.currency)
	if err != nil || digits == 0 {
		return strconv.FormatInt(a.minor, 10)
	}
	sign, size := "", a.minor
	if size < 0 {
		sign, size = "-", -size
	}
	text := fmt.Sprintf("%0*d", digits+1, size)
	return sign + text[:len(text)-digits] + "." + text[len(text)-digits:]
}

// String is the sum with its currency, such as "EUR 12.50".
func (a Amount) String() string { return a.currency + " " + a.Decimal() }

type amountJSON struct {
	Amount   string `json:"amount"`
	Currency string `json:"currency"`
}

// MarshalJSON writes {"amount":"12.50","currency":"EUR"}.
func (a Amount) MarshalJSON() ([]byte, error) {
	return json.Marshal(amountJSON{a.Decimal(), a.currency})
}

// UnmarshalJSON reads what MarshalJSON writes. Totals may be beyond Limit.
func (a *Amount) UnmarshalJSON(data []byte) error {
	var in amountJSON
	if err := json.Unmarshal(data, &in); err != nil {
		return err
	}
	if in.Currency == "" {
		*a = Amount{}
		return nil
	}
	digits, err := Digits(in.Currency)
	if err != nil {
		return err
	}
	whole, fraction, _ := strings.Cut(in.Amount, ".")
	if len(fraction) != digits {
		return fmt.Errorf("%q has not the decimal places of %s", in.Amount, in.Currency)
	}
	minor, err := strconv.ParseInt(whole+fraction, 10, 64)
	if err != nil {
		return err
	}
	*a = Amount{minor: minor, currency: in.Currency}
	return nil
}
