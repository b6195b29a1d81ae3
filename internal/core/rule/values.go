package rule

import (
	"errors"
	"fmt"
	"math/big"
	"reflect"
	"strconv"
	"time"

	"cel.dev/cel-go/cel"
	"cel.dev/cel-go/common/types"
	"cel.dev/cel-go/common/types/ref"
	"cel.dev/cel-go/common/types/traits"

	"heptad/internal/core/calendar"
	"heptad/internal/core/money"
)

// Type is the type of a value in rules.
type Type = *cel.Type

// Value is a value in rules.
type Value = ref.Val

// The types values can have.
var (
	Text    = cel.StringType
	Number  = cel.DoubleType
	Count   = cel.IntType
	YesNo   = cel.BoolType
	DateT   = cel.ObjectType("date", traits.ComparerType)
	MoneyT  = cel.ObjectType("money", traits.ComparerType|traits.AdderType|traits.SubtractorType|traits.MultiplierType)
	Instant = cel.TimestampType
	Texts   = cel.ListType(cel.StringType)
	// RecordOf is the type of one record of a declared name, Records of a list
	// of them.
	RecordOf = func(name string) Type { return cel.ObjectType(name) }
	Records  = func(name string) Type { return cel.ListType(cel.ObjectType(name)) }
)

// Record is a set of named values; a name without an entry is absent.
type Record map[string]Value

// ErrAbsent says that a rule hangs on something that has no value.
var ErrAbsent = errors.New("absent")

// OfText makes a text value.
func OfText(s string) Value { return types.String(s) }

// OfNumber makes a number value.
func OfNumber(f float64) Value { return types.Double(f) }

// OfCount makes a whole number.
func OfCount(n int) Value { return types.Int(n) }

// OfYesNo makes a truth value.
func OfYesNo(b bool) Value { return types.Bool(b) }

// OfTexts makes a list of texts.
func OfTexts(list []string) Value { return types.NewStringList(types.DefaultTypeAdapter, list) }

// OfDate makes a date value.
func OfDate(d calendar.Date) Value { return dateValue{d} }

// OfMoney makes a money value.
func OfMoney(a money.Amount) Value { return moneyValue{a} }

// OfInstant makes an instant.
func OfInstant(t time.Time) Value { return types.Timestamp{Time: t} }

// OfRecord makes one record of a declared name.
func OfRecord(name string, r Record) Value { return recordValue{name, r} }

// OfRecords makes a list of records of a declared name.
func OfRecords(name string, list []Record) Value {
	values := make([]ref.Val, len(list))
	for i, r := range list {
		values[i] = recordValue{name, r}
	}
	return types.NewRefValList(types.DefaultTypeAdapter, values)
}

// Plain gives a value back as text, bool, int64, float64, calendar.Date,
// time.Time, money.Amount, Record or a list of texts; nil when there is no value.
func Plain(v Value) any {
	if v == nil {
		return nil
	}
	switch x := v.(type) {
	case dateValue:
		return x.Date
	case moneyValue:
		return x.Amount
	case recordValue:
		return x.record
	case types.Timestamp:
		return x.Time
	case traits.Lister:
		if list, err := x.ConvertToNative(reflect.TypeFor[[]string]()); err == nil {
			return list
		}
	}
	return v.Value()
}

type dateValue struct{ calendar.Date }

func (d dateValue) Compare(other ref.Val) ref.Val {
	if o, ok := other.(dateValue); ok {
		return types.Int(d.Date.Compare(o.Date))
	}
	return types.MaybeNoSuchOverloadErr(other)
}

func (d dateValue) Equal(other ref.Val) ref.Val {
	o, ok := other.(dateValue)
	return types.Bool(ok && d == o)
}

func (d dateValue) ConvertToType(t ref.Type) ref.Val {
	if t == types.StringType {
		return types.String(d.Date.String())
	}
	return types.NewErr("a date is no %s", t.TypeName())
}

func (d dateValue) ConvertToNative(t reflect.Type) (any, error) { return convertTo(d.Date, t) }

func (d dateValue) Type() ref.Type { return DateT }

func (d dateValue) Value() any { return d.Date }

type moneyValue struct{ money.Amount }

func (m moneyValue) Compare(other ref.Val) ref.Val {
	if o, ok := other.(moneyValue); ok {
		order, err := m.Amount.Compare(o.Amount)
		if err != nil {
			return types.WrapErr(err)
		}
		return types.Int(order)
	}
	return types.MaybeNoSuchOverloadErr(other)
}

func (m moneyValue) Add(other ref.Val) ref.Val {
	o, ok := other.(moneyValue)
	if !ok {
		return types.MaybeNoSuchOverloadErr(other)
	}
	return ofMoney(m.Plus(o.Amount))
}

func (m moneyValue) Subtract(other ref.Val) ref.Val {
	o, ok := other.(moneyValue)
	if !ok {
		return types.MaybeNoSuchOverloadErr(other)
	}
	return ofMoney(m.Plus(o.Times(-1)))
}

func (m moneyValue) Multiply(other ref.Val) ref.Val {
	tooMuch := types.WrapErr(errors.New("money is multiplied by too much"))
	switch n := other.(type) {
	case types.Int:
		if n > maxFactor || n < -maxFactor {
			return tooMuch
		}
		return OfMoney(m.Times(int64(n)))
	case types.Double:
		if !(n >= -maxFactor && n <= maxFactor) {
			return tooMuch
		}
		// The decimal number that is meant, to be rounded once, as prices are.
		exact, _ := new(big.Rat).SetString(strconv.FormatFloat(float64(n), 'f', -1, 64))
		return OfMoney(m.Portion(exact))
	}
	return types.MaybeNoSuchOverloadErr(other)
}

// maxFactor keeps products of money far from overflow.
const maxFactor = 1_000_000

func ofMoney(a money.Amount, err error) ref.Val {
	if err != nil {
		return types.WrapErr(err)
	}
	return OfMoney(a)
}

func (m moneyValue) Equal(other ref.Val) ref.Val {
	o, ok := other.(moneyValue)
	return types.Bool(ok && m == o)
}

func (m moneyValue) ConvertToType(t ref.Type) ref.Val {
	if t == types.StringType {
		return types.String(m.Amount.String())
	}
	return types.NewErr("money is no %s", t.TypeName())
}

func (m moneyValue) ConvertToNative(t reflect.Type) (any, error) { return convertTo(m.Amount, t) }

func (m moneyValue) Type() ref.Type { return MoneyT }

func (m moneyValue) Value() any { return m.Amount }

type recordValue struct {
	name   string
	record Record
}

func (r recordValue) Equal(other ref.Val) ref.Val {
	o, ok := other.(recordValue)
	return types.Bool(ok && reflect.DeepEqual(r, o))
}

func (r recordValue) ConvertToType(t ref.Type) ref.Val {
	return types.NewErr("a %s is no %s", r.name, t.TypeName())
}

func (r recordValue) ConvertToNative(t reflect.Type) (any, error) { return convertTo(r.record, t) }

func (r recordValue) Type() ref.Type { return cel.ObjectType(r.name) }

func (r recordValue) Value() any { return r.record }

func convertTo(value any, t reflect.Type) (any, error) {
	if reflect.TypeOf(value).AssignableTo(t) {
		return value, nil
	}
	return nil, fmt.Errorf("%T is no %s", value, t)
}

// As gives a value back as one Go type that Plain gives; ok is false when there
// is no value or it is of another type.
func As[T any](v Value) (t T, ok bool) {
	if v == nil {
		return t, false
	}
	t, ok = Plain(v).(T)
	return t, ok
}

// Rows gives the records of a list back; nil when it is no list of records.
func Rows(v Value) []Record {
	list, ok := v.(traits.Lister)
	if !ok {
		return nil
	}
	var records []Record
	for it := list.Iterator(); it.HasNext() == types.True; {
		if r, ok := it.Next().(recordValue); ok {
			records = append(records, r.record)
		}
	}
	return records
}
