package load

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"net/http"
	"path/filepath"
	"slices"
	"strings"
	"sync"
	"sync/atomic"
	"time"

	"github.com/jmoiron/sqlx"

	"heptad/internal/demo"
)

// How much is written, and what it may cost.
const (
	writings     = 20 // of each act; the median counts
	mostWriting  = 3  // times bare SQLite, and times the same at the smallest
	leastSending = 0.75
	leastReads   = 600 // a second, by 64 beside 60 submissions
)

// Writing is what acts take on a folder, on the clock, beside bare SQLite that writes the
// same rows into the same file.
type Writing struct {
	Requests  int
	Acts      map[string]time.Duration
	Bare      map[string]time.Duration
	Rows      int     // of a submission
	Bytes     int     // of their values, not packed
	Eight     float64 // submissions a second by eight people at once
	SixtyFour float64
	Reads     float64 // a second, by 64 people beside 60 submissions
}

// acts in the order in which they are done to a request.
var acts = []string{"submit", "decide", "comment", "take", "complete"}

// Write measures acts on a folder of so many requests.
func Write(ctx context.Context, dir string, requests int) (Writing, error) {
	out := Writing{Requests: requests, Acts: map[string]time.Duration{}, Bare: map[string]time.Duration{}}
	c, err := start(ctx, "serve", "--data", dir, "--door", fmt.Sprint(2*Whole.People))
	if err != nil {
		return out, err
	}
	w := &writer{child: c, client: clientFor(128), signedIn: map[string]*person{}, took: map[string][]time.Duration{}}
	err = w.measure(ctx, dir, &out)
	_, stopped := c.stop()
	if err := errors.Join(err, stopped); err != nil {
		return out, err
	}
	for _, act := range acts {
		out.Acts[act] = median(w.took[act])
	}
	return out, w.bare(dir, &out)
}

func median(all []time.Duration) time.Duration {
	slices.Sort(all)
	return all[len(all)/2]
}

// writer does acts, and notes which rows each wrote.
type writer struct {
	*child
	client   *http.Client
	db       *sqlx.DB // reads what was written
	tables   map[string]*table
	mu       sync.Mutex
	signedIn map[string]*person
	took     map[string][]time.Duration
	lives    []life
}

// life is what was written of one request, act by act.
type life struct {
	id, reference string
	number        int64
	there         map[string]map[string]bool // rows by table, as text
	acts          []written
}

// written are the rows that an act has written, by table.
type written struct {
	act  string
	rows map[string][][]any
}

func (w *writer) as(ctx context.Context, id string) (*person, error) {
	w.mu.Lock()
	p := w.signedIn[id]
	w.mu.Unlock()
	if p != nil {
		return p, nil
	}
	p, err := signIn(ctx, w.client, w.url, id)
	if err != nil {
		return nil, err
	}
	w.mu.Lock()
	defer w.mu.Unlock()
	w.signedIn[id] = p
	return p, nil
}

func (w *writer) measure(ctx context.Context, dir string, out *Writing) error {
	var err error
	if w.db, err = sqlx.Connect("sqlite", "file:"+filepath.Join(dir, "heptad.db")+"?mode=ro&_pragma=query_only(1)&_pragma=busy_timeout(5000)"); err != nil {
		return err
	}
	defer w.db.Close()
	if w.tables, err = tablesOf(w.db); err != nil {
		return err
	}
	if err := w.settle(ctx); err != nil {
		return err
	}
	for i := range writings + 1 {
		if i == 1 { // the first warms
			w.took, w.lives = map[string][]time.Duration{}, nil
		}
		if err := w.live(ctx); err != nil {
			return err
		}
	}
	if out.Eight, err = w.together(ctx, 8, 160); err != nil {
		return err
	}
	if out.SixtyFour, err = w.together(ctx, 64, 320); err != nil {
		return err
	}
	out.Reads, err = w.beside(ctx, 64, 60)
	return err
}

// live has one request sent, spoken of and worked on, and another decided on.
func (w *writer) live(ctx context.Context) error {
	id, err := w.begin(ctx, "berth-side-parking", "submit")
	if err != nil {
		return err
	}
	if err := w.do(ctx, "comment", demo.ID("sarmento"), "/api/requests/"+id+"/words", `{"text":"When can I have it?"}`); err != nil {
		return err
	}
	var task struct{ Key, Person string }
	if err := w.db.Get(&task, "SELECT t.key, m.person FROM tasks t JOIN team_members m ON m.team = t.team WHERE t.request = ? AND t.open = 1 ORDER BY t.key DESC, m.person LIMIT 1", id); err != nil {
		return err
	}
	for _, act := range []string{"take", "complete"} {
		if err := w.do(ctx, act, task.Person, "/api/tasks/"+id+"/"+task.Key+"/"+act, "{}"); err != nil {
			return err
		}
	}
	if id, err = w.begin(ctx, "quay-access-badge", ""); err != nil {
		return err
	}
	var seat struct{ Person, Rung string }
	if err := w.db.Get(&seat, "SELECT person, rung FROM seats WHERE request = ? AND state = 'open' LIMIT 1", id); err != nil {
		return err
	}
	return w.do(ctx, "decide", seat.Person, "/api/decisions/"+id+"/"+seat.Rung, `{"decision":"approve"}`)
}

// begin sends a request, as an act of a name.
func (w *writer) begin(ctx context.Context, offering, act string) (id string, err error) {
	asker, err := w.as(ctx, demo.ID("sarmento"))
	if err != nil {
		return "", err
	}
	id, body, err := asker.draft(ctx, offering)
	if err != nil {
		return "", err
	}
	w.lives = append(w.lives, life{id: id, there: map[string]map[string]bool{}})
	return id, w.do(ctx, act, demo.ID("sarmento"), "/api/requests/"+id+"/submit", body)
}

// do does an act to the last request, and notes what it wrote.
func (w *writer) do(ctx context.Context, act, as, path, body string) error {
	p, err := w.as(ctx, as)
	if err != nil {
		return err
	}
	began := time.Now()
	if _, err := p.ask(ctx, http.MethodPost, path, body); err != nil {
		return err
	}
	w.took[act] = append(w.took[act], time.Since(began))
	l := &w.lives[len(w.lives)-1]
	rows, err := w.since(l)
	l.acts = append(l.acts, written{act, rows})
	return err
}

// since are the rows of a request that were not there before, and are now.
func (w *writer) since(l *life) (map[string][][]any, error) {
	if l.number == 0 {
		if err := w.db.QueryRow("SELECT reference, number FROM requests WHERE id = ?", l.id).Scan(&l.reference, &l.number); err != nil {
			return nil, err
		}
	}
	added := map[string][][]any{}
	for name, condition := range keptBy {
		rows, err := w.tables[name].rows(w.db, "WHERE "+condition+" AND ?1 <> '' AND ?2 > 0", l.id, l.number)
		if err != nil {
			return nil, err
		}
		if l.there[name] == nil {
			l.there[name] = map[string]bool{}
		}
		for _, row := range rows {
			if key := fmt.Sprint(row...); !l.there[name][key] {
				l.there[name][key] = true
				added[name] = append(added[name], row)
			}
		}
	}
	return added, nil
}

// together has so many people send so many requests in all, and gives how many a second.
func (w *writer) together(ctx context.Context, people, n int) (float64, error) {
	drafts, err := w.drafts(ctx, people, n)
	if err != nil {
		return 0, err
	}
	began := time.Now()
	err = atOnce(people, n, func(i int) error {
		d := drafts[i]
		_, err := d.by.ask(ctx, http.MethodPost, "/api/requests/"+d.id+"/submit", d.body)
		return err
	})
	return float64(n) / time.Since(began).Seconds(), err
}

// draft is a request that is ready to be sent.
type draft struct {
	by       *person
	id, body string
}

// drafts are so many, of people in turn: each has one draft of each offering, so that who
// has several sends the one before.
func (w *writer) drafts(ctx context.Context, people, n int) ([]draft, error) {
	var ids []string
	if err := w.db.Select(&ids, "SELECT id FROM people WHERE away = 0 AND id NOT IN (SELECT asker FROM requests WHERE status = 'draft') AND employment = 'permanent' AND manager IS NOT NULL LIMIT ?", n); err != nil {
		return nil, err
	}
	if len(ids) < n {
		return nil, fmt.Errorf("only %d people can ask", len(ids))
	}
	all := make([]draft, n)
	return all, atOnce(people, n, func(i int) error {
		p, err := w.as(ctx, ids[i])
		if err != nil {
			return err
		}
		id, body, err := p.draft(ctx, "new-second-sign-in-factor")
		all[i] = draft{p, id, body}
		return err
	})
}

// atOnce does so many things, so many at once.
func atOnce(workers, n int, do func(i int) error) error {
	var next atomic.Int64
	var mu sync.Mutex
	var failed error
	var running sync.WaitGroup
	for range workers {
		running.Go(func() {
			for i := int(next.Add(1)) - 1; i < n; i = int(next.Add(1)) - 1 {
				if err := do(i); err != nil {
					mu.Lock()
					failed = errors.Join(failed, err)
					mu.Unlock()
					return
				}
			}
		})
	}
	running.Wait()
	return failed
}

// beside has so many people read lists while requests are sent, and gives how many reads
// there were a second.
func (w *writer) beside(ctx context.Context, people, sent int) (float64, error) {
	drafts, err := w.drafts(ctx, 8, sent)
	if err != nil {
		return 0, err
	}
	paths := []string{"/api/session", "/api/requests", "/api/tasks", "/api/decisions", "/api/messages"}
	readers := make([]*person, people)
	names := []string{"sarmento", "quist", "marrec", "okonjo"}
	for i := range readers {
		if readers[i], err = signIn(ctx, w.client, w.url, demo.ID(names[i%len(names)])); err != nil {
			return 0, err
		}
	}
	reading, end := context.WithCancel(ctx)
	defer end()
	var reads atomic.Int64
	done := make(chan error, 1)
	go func() {
		done <- atOnce(people, 1<<30, func(i int) error {
			if reading.Err() != nil {
				return reading.Err()
			}
			_, err := readers[i%people].ask(reading, http.MethodGet, paths[i/people%len(paths)], "")
			if err == nil {
				reads.Add(1)
			}
			return err
		})
	}()
	began := time.Now()
	const over = 6 * time.Second
	for i, d := range drafts {
		if _, err := d.by.ask(ctx, http.MethodPost, "/api/requests/"+d.id+"/submit", d.body); err != nil {
			return 0, err
		}
		time.Sleep(time.Until(began.Add(over * time.Duration(i+1) / time.Duration(sent))))
	}
	rate := float64(reads.Load()) / time.Since(began).Seconds()
	end()
	<-done // they end with an error, as they are cut off
	return rate, nil
}

// draft keeps a draft of an offering of the demo, with answers as its people give them; body
// sends it.
func (p *person) draft(ctx context.Context, offering string) (id, body string, err error) {
	habits, err := demo.Habits()
	if err != nil {
		return "", "", err
	}
	at := slices.IndexFunc(habits, func(h demo.Habit) bool { return h.Offering == offering })
	if at < 0 {
		return "", "", fmt.Errorf("nobody asks for %s", offering)
	}
	answers := habits[at].Dated(0, time.Now())
	data, err := json.Marshal(map[string]any{"answers": answers})
	if err != nil {
		return "", "", err
	}
	kept, err := p.ask(ctx, http.MethodPut, "/api/offerings/"+offering+"/draft", string(data))
	if err != nil {
		return "", "", err
	}
	var saved struct {
		Draft  string
		Result struct{ Slip string }
	}
	if err := json.Unmarshal(kept, &saved); err != nil {
		return "", "", err
	}
	data, err = json.Marshal(map[string]any{"answers": answers, "slip": saved.Result.Slip})
	return saved.Draft, string(data), err
}

// send asks for an offering of the demo.
func (p *person) send(ctx context.Context, offering string) error {
	id, body, err := p.draft(ctx, offering)
	if err == nil {
		_, err = p.ask(ctx, http.MethodPost, "/api/requests/"+id+"/submit", body)
	}
	return err
}

// bare writes the same rows with SQLite alone, for requests of other IDs.
func (w *writer) bare(dir string, out *Writing) error {
	db, err := sqlx.Connect("sqlite", "file:"+filepath.Join(dir, "heptad.db")+"?_txlock=immediate&_pragma=foreign_keys(1)&_pragma=busy_timeout(5000)&_pragma=synchronous(FULL)&_pragma=journal_mode(WAL)")
	if err != nil {
		return err
	}
	defer db.Close()
	db.SetMaxOpenConns(1)
	var last int64
	if err := db.Get(&last, "SELECT max(id) FROM message_words"); err != nil {
		return err
	}
	number := int64(0)
	if err := db.Get(&number, "SELECT max(number) FROM requests"); err != nil {
		return err
	}
	took := map[string][]time.Duration{}
	for _, l := range w.lives {
		number++
		c := &twin{life: l, id: demo.ID("twin." + l.id), number: number, words: map[int64]int64{}, last: &last}
		for _, a := range l.acts {
			began := time.Now()
			rows, bytes, err := c.write(db, w.tables, a)
			if err != nil {
				return fmt.Errorf("%s of %s: %w", a.act, l.reference, err)
			}
			took[a.act] = append(took[a.act], time.Since(began))
			if a.act == "submit" {
				out.Rows, out.Bytes = rows, bytes
			}
		}
	}
	for _, act := range acts {
		out.Bare[act] = median(took[act])
	}
	return nil
}

// twin is a request with the same rows as another, but for what names it.
type twin struct {
	life
	id     string
	number int64
	words  map[int64]int64 // numbers of the words of its messages
	last   *int64          // number of words
}

// write writes what an act has written, in one transaction; it gives how many rows, and bytes of
// values.
func (t *twin) write(db *sqlx.DB, tables map[string]*table, a written) (n, bytes int, err error) {
	tx, err := db.Beginx()
	if err != nil {
		return 0, 0, err
	}
	defer func() { _ = tx.Rollback() }() // once it is kept, this does nothing
	order := names(tables)
	slices.SortStableFunc(order, func(x, y string) int { // what others point at goes first
		rank := map[string]int{"requests": -1}
		return rank[x] - rank[y]
	})
	for _, name := range order {
		of := tables[name]
		for _, from := range a.rows[name] {
			row := t.row(name, of, from)
			if _, err := tx.Exec(of.put, row...); err != nil {
				return 0, 0, fmt.Errorf("%s: %w", name, err)
			}
			n++
			for _, v := range row {
				bytes += len(fmt.Sprint(v))
			}
		}
	}
	return n, bytes, tx.Commit()
}

func (t *twin) row(name string, of *table, from []any) []any {
	row := slices.Clone(from)
	for i, v := range row {
		if s, ok := v.(string); ok && strings.Contains(s, t.life.id) {
			row[i] = strings.ReplaceAll(s, t.life.id, t.id)
		} else if ok && s == t.reference {
			row[i] = "T-" + s
		}
	}
	if at := of.at("number"); at >= 0 {
		row[at] = t.number
	}
	number := func(words int64) int64 {
		if t.words[words] == 0 {
			*t.last++
			t.words[words] = *t.last
		}
		return t.words[words]
	}
	switch name {
	case "message_words":
		row[0] = number(row[0].(int64))
	case "messages":
		row[of.at("words")] = number(row[of.at("words")].(int64))
	}
	return row
}
