package price_test

import (
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"

	"heptad/internal/core/coretest"
	"heptad/internal/core/price"
)

func TestImportItems(t *testing.T) {
	got := price.ImportItems(strings.NewReader("\uFEFFkey;name;amount;per;min\nt10;\"Tablet; 10 inch\";399.00;once;2\nplan;Data plan;12.50;month;\n"), "EUR")
	assert.Empty(t, got.Problems)
	assert.Equal(t, []price.Item{
		{Key: "t10", Name: "Tablet; 10 inch", Price: price.Charge{Amount: "399.00", Per: price.Once}, Min: 2},
		{Key: "plan", Name: "Data plan", Price: price.Charge{Amount: "12.50", Per: price.Month}},
	}, got.Items)
}

// One thing wrong at a time: where it is and how it reads. Nothing is half done.
func TestImportItemsFinds(t *testing.T) {
	for name, c := range map[string]struct {
		file string
		want string // line column sentence
	}{
		"nothing":            {"", "1  The file is empty."},
		"no amount":          {"key,name\na,A\n", `1 amount The column "amount" is missing.`},
		"a strange column":   {"key,name,amount,colour\n", `1 colour There is no column "colour".`},
		"a column twice":     {"key,name,amount,key\n", `1 key The column "key" stands twice.`},
		"too few columns":    {"key,name,amount\na,A\n", "2  There are 2 columns; 3 are needed."},
		"broken quotes":      {"key,name,amount\na,\"A,1\nb,B,1\n", "2  A quotation mark opens"},
		"quotes inside":      {"key,name,amount\na,A,1\nb,B\"x,1\n", "3  A quotation mark opens"},
		"no key":             {"key,name,amount\n,A,1\n", "2 key The key is empty."},
		"no name":            {"key,name,amount\na, ,1\n", "2 name The name is empty."},
		"key twice":          {"key,name,amount\na,A,1\na,B,1\n", `3 key The key "a" stands in line 2, too.`},
		"a strange amount":   {"key,name,amount\na,A,1.999\n", `2 amount "1.999" is not a sum`},
		"less than nothing":  {"key,name,amount\na,A,-1\n", `2 amount "-1" is less than nothing.`},
		"a strange period":   {"key,name,amount,per\na,A,1,week\n", `2 per "week" is no period`},
		"a strange quantity": {"key,name,amount,max\na,A,1,many\n", `2 max "many" is no quantity`},
		"a strange tax":      {"key,name,amount,tax\na,A,1,200\n", `2 tax "200" is more than 100`},
		"another currency":   {"key,name,amount,currency\na,A,1,KRONE\n", `2 amount "KRONE" is not a currency`},
	} {
		t.Run(name, func(t *testing.T) {
			got := price.ImportItems(strings.NewReader(c.file), "EUR")
			assert.Empty(t, got.Items)
			if assert.Len(t, got.Problems, 1, "%+v", got.Problems) {
				p := got.Problems[0]
				assert.Contains(t, fmt.Sprintf("%d %s %s", p.Line, p.Column, p.Sentence), c.want)
			}
		})
	}
}

func TestManyLines(t *testing.T) {
	var file strings.Builder
	file.WriteString("key,name,amount\n")
	for i := range 50_000 {
		fmt.Fprintf(&file, "k%d,Thing %d,much\n", i, i)
	}
	got := price.ImportItems(strings.NewReader(file.String()), "EUR")
	assert.Equal(t, 50_000, got.Lines)
	assert.Len(t, got.Problems, 100)
	assert.Equal(t, 50_001-100, got.More, "every line, and that there are too many")
	assert.Empty(t, got.Items)
}

func FuzzImportItems(f *testing.F) {
	f.Add("key;name;amount\na;\"b\n;1")
	f.Fuzz(func(t *testing.T, file string) {
		coretest.Bounded(t, 100, func() {
			got := price.ImportItems(strings.NewReader(file), "EUR")
			assert.True(t, len(got.Items) == 0 || len(got.Problems) == 0)
		})
	})
}
