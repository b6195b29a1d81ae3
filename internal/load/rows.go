package load

import (
	"strings"
	"time"

	"github.com/jmoiron/sqlx"
)

// packed are the columns that the store packs, and how.
var packed = map[string]string{"requests.state": "states", "requests.brief": "states", "events.event": "events", "message_words.words": "words"}

// table is a table of the file with the statement that fills it.
type table struct {
	name    string
	columns []string
	read    []string // the columns as they are read: what is packed is unpacked
	numbers bool     // its first column numbers the rows
	fill    string   // puts a row in, unless there is one
	put     string   // puts a row in, or in the place of the one that is there
}

func tableOf(db sqlx.Queryer, name string) (*table, error) {
	var columns []struct {
		Name string
		Type string
		PK   int `db:"pk"`
	}
	if err := sqlx.Select(db, &columns, "SELECT name, type, pk FROM pragma_table_info(?)", name); err != nil {
		return nil, err
	}
	t := &table{name: name}
	var values []string
	for i, c := range columns {
		column, value := `"`+c.Name+`"`, "?"
		t.columns, t.read = append(t.columns, column), append(t.read, column)
		if how := packed[name+"."+c.Name]; how != "" {
			t.read[i], value = "unpacked("+column+")", "packed('"+how+"', ?)"
		}
		values = append(values, value)
		if i == 0 && c.Type == "INTEGER" && c.PK == 1 && c.Name == "id" && name != "message_words" {
			t.numbers = true
		}
	}
	var keys, sets []string
	for i, c := range columns {
		if c.PK > 0 {
			keys = append(keys, t.columns[i])
		} else {
			sets = append(sets, t.columns[i]+" = excluded."+t.columns[i])
		}
	}
	into := "INSERT INTO " + name + " (" + strings.Join(t.columns, ",") + ") VALUES (" + strings.Join(values, ",") + ") ON CONFLICT "
	t.fill = into + "DO NOTHING"
	t.put = t.fill
	if len(keys) > 0 && len(sets) > 0 && !t.numbers {
		t.put = into + "(" + strings.Join(keys, ",") + ") DO UPDATE SET " + strings.Join(sets, ",")
	}
	return t, nil
}

// tablesOf are those of which each request has rows.
func tablesOf(db sqlx.Queryer) (map[string]*table, error) {
	all := map[string]*table{}
	for name := range keptBy {
		t, err := tableOf(db, name)
		if err != nil {
			return nil, err
		}
		all[name] = t
	}
	return all, nil
}

// at is the place of a column.
func (t *table) at(column string) int {
	for i, c := range t.columns {
		if c == `"`+column+`"` {
			return i
		}
	}
	return -1
}

// rows are those of the table that a condition holds for.
func (t *table) rows(db sqlx.Queryer, where string, args ...any) ([][]any, error) {
	found, err := db.Queryx("SELECT "+strings.Join(t.read, ",")+" FROM "+t.name+" "+where, args...)
	if err != nil {
		return nil, err
	}
	defer found.Close()
	var all [][]any
	for found.Next() {
		row, err := found.SliceScan()
		if err != nil {
			return nil, err
		}
		if t.numbers {
			row[0] = nil
		}
		all = append(all, row)
	}
	return all, found.Err()
}

// ofRequest are those of a request, by its ID and its number.
func (t *table) ofRequest(db sqlx.Queryer, id string, number int64) ([][]any, error) {
	return t.rows(db, "WHERE "+keptBy[t.name]+" AND ?1 <> '' AND ?2 > 0", id, number)
}

func (t *table) insert(tx sqlx.Execer, row []any) error {
	_, err := tx.Exec(t.fill, row...)
	return err
}

// copying says how a row is copied: words that are other words in the copy, and by how
// much its instants and days are earlier.
type copying struct {
	names   map[string]string
	own     map[string]string // as names, of this copy alone
	earlier time.Duration     // whole days
}

// Milliseconds within which a number is taken for an instant.
const (
	firstInstant = 1_000_000_000_000
	lastInstant  = 4_000_000_000_000
	lifted       = 1e15 // by which the place of what is stuck is less
)

// row copies a row.
func (c copying) row(from []any) []any {
	row := make([]any, len(from))
	for i, v := range from {
		row[i] = v
		switch v := v.(type) {
		case int64:
			if (v > firstInstant && v < lastInstant) || (v < firstInstant-lifted && v > firstInstant-2*lifted) {
				row[i] = v - c.earlier.Milliseconds()
			}
		case string:
			lines := strings.Split(v, "\n") // the JSON of an event has lines before it
			for n := range lines {
				lines[n] = c.text(lines[n])
			}
			row[i] = strings.Join(lines, "\n")
		}
	}
	return row
}

// text copies a word, or the JSON it is of.
func (c copying) text(s string) string {
	if named, ok := c.named(s); ok {
		return named
	}
	if s == "" || s[0] != '{' && s[0] != '[' {
		return s
	}
	var b strings.Builder
	b.Grow(len(s) + 64)
	for {
		from := strings.IndexByte(s, '"')
		if from < 0 {
			break
		}
		b.WriteString(s[:from+1])
		s = s[from+1:]
		end := 0
		for end < len(s) && s[end] != '"' {
			if s[end] == '\\' {
				end++
			}
			end++
		}
		end = min(end, len(s))
		b.WriteString(c.word(s[:end]))
		s = s[end:]
		if s != "" {
			b.WriteByte('"')
			s = s[1:]
		}
	}
	b.WriteString(s)
	return b.String()
}

func (c copying) named(s string) (string, bool) {
	if named, ok := c.own[s]; ok {
		return named, true
	}
	named, ok := c.names[s]
	return named, ok
}

// word copies a word of JSON: a key, an instant, a day, or what it is.
func (c copying) word(s string) string {
	if named, ok := c.named(s); ok {
		return named
	}
	if c.earlier != 0 && len(s) >= len(time.DateOnly) && strings.HasPrefix(s, "20") && s[4] == '-' && s[7] == '-' {
		if day, err := time.Parse(time.DateOnly, s[:len(time.DateOnly)]); err == nil {
			return day.Add(-c.earlier).Format(time.DateOnly) + s[len(time.DateOnly):]
		}
	}
	return s
}

// naming gives the rows of a request's copy names of their own.
type naming struct {
	from, to string          // IDs
	number   int64           // of its reference
	words    *int64          // number of the last words of messages in the file
	told     map[int64]int64 // numbers of its own words, by those of the other's
}

// give gives them to a row.
func (n naming) give(of *table, row []any) {
	for i, v := range row {
		if s, ok := v.(string); ok && strings.Contains(s, n.from) {
			row[i] = strings.ReplaceAll(s, n.from, n.to)
		}
	}
	if at := of.at("number"); at >= 0 {
		row[at] = n.number
	}
	at := map[string]int{"message_words": of.at("id"), "messages": of.at("words")}
	if i, ok := at[of.name]; ok {
		words := row[i].(int64)
		if n.told[words] == 0 {
			*n.words++
			n.told[words] = *n.words
		}
		row[i] = n.told[words]
	}
}
