package load

import (
	"context"
	"errors"
	"fmt"
	"net/http"
	"path/filepath"
	"sync"
	"time"

	"github.com/jmoiron/sqlx"

	"heptad/internal/demo"
)

// How much is written, and what it may cost.
const (
	pause        = 150 * time.Millisecond // before each, so that what the one before has left to be done is done
	writings     = 20                     // of each act; the median counts
	sentBare     = 960                    // submissions by bare SQLite, to say how many a second
	mostWriting  = 3                      // times bare SQLite, and times the same at the smallest
	leastSending = 0.75                   // of what bare SQLite keeps a second
	leastReads   = 600                    // a second, by 64 beside 60 submissions
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
	BareRate  float64 // of the rows of submissions, by bare SQLite
	Reads     float64 // a second, by 64 people beside 60 submissions
}

// acts in the order in which they are done to a request.
var acts = []string{"submit", "decide", "comment", "take", "complete"}

// Write measures acts on a copy of a folder of so many requests. Profile, unless empty, is the file
// that the profile of the server is written to.
func Write(ctx context.Context, dir string, requests int, profile string) (out Writing, err error) {
	out = Writing{Requests: requests, Acts: map[string]time.Duration{}, Bare: map[string]time.Duration{}}
	dir, done, err := apart(dir)
	if err != nil {
		return out, err
	}
	defer func() { err = errors.Join(err, done()) }()
	args := []string{"serve", "--data", dir, "--door", fmt.Sprint(2 * Whole.People)}
	if profile != "" {
		args = append(args, "--profile", profile)
	}
	c, err := start(ctx, args...)
	if err != nil {
		return out, err
	}
	w := &writer{child: c, client: clientFor(128), signedIn: map[string]*person{}, took: map[string][]time.Duration{}}
	err = w.measure(ctx, dir, profile != "", &out)
	_, stopped := c.stop()
	if err := errors.Join(err, stopped); err != nil {
		return out, err
	}
	for _, act := range acts {
		out.Acts[act] = median(w.took[act])
	}
	return out, w.bare(dir, &out)
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

func (w *writer) measure(ctx context.Context, dir string, profile bool, out *Writing) error {
	var err error
	if w.db, err = sqlx.Connect("sqlite", "file:"+filepath.Join(dir, "heptad.db")+"?mode=ro&_pragma=query_only(1)&_pragma=busy_timeout(5000)"); err != nil {
		return err
	}
	defer w.db.Close()
	if w.tables, err = tablesOf(w.db); err != nil {
		return err
	}
	for _, name := range []string{"measures", "hands"} { // are no request's, and written with them
		if w.tables[name], err = tableOf(w.db, name); err != nil {
			return err
		}
	}
	if err := w.settle(ctx); err != nil {
		return err
	}
	for i := range writings + 1 {
		if i == 1 { // the first warms
			w.took, w.lives = map[string][]time.Duration{}, nil
			if profile {
				if _, err := (&person{w.url, "", w.client}).ask(ctx, http.MethodGet, "/profile", ""); err != nil {
					return err
				}
			}
		}
		if err := w.live(ctx); err != nil {
			return err
		}
	}
	if out.Eight, err = w.together(ctx, 8, 480); err != nil {
		return err
	}
	if out.SixtyFour, err = w.together(ctx, 64, 960); err != nil {
		return err
	}
	out.Reads, err = w.beside(ctx, 64, 60)
	return err
}

// live has one request sent, spoken of and worked on, and another decided on.
func (w *writer) live(ctx context.Context) error {
	id, err := w.begin(ctx, measuredOffering, "submit")
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
	time.Sleep(pause)
	var measured int64
	if err := w.db.Get(&measured, "SELECT coalesce(max(id), 0) FROM measures"); err != nil {
		return err
	}
	began := time.Now()
	if _, err := p.ask(ctx, http.MethodPost, path, body); err != nil {
		return err
	}
	w.took[act] = append(w.took[act], time.Since(began))
	l := &w.lives[len(w.lives)-1]
	rows, err := w.since(l)
	if err != nil {
		return err
	}
	for name, which := range map[string]string{"measures": "WHERE id > ?1", "hands": "WHERE person = ?2 AND ?3 IN ('take', 'complete')"} {
		if rows[name], err = w.tables[name].rows(w.db, which, measured, as, act); err != nil {
			return err
		}
	}
	l.acts = append(l.acts, written{act, rows})
	return nil
}

// since are the rows of a request that were not there before, and are now.
func (w *writer) since(l *life) (map[string][][]any, error) {
	if l.number == 0 {
		if err := w.db.QueryRow("SELECT reference, number FROM requests WHERE id = ?", l.id).Scan(&l.reference, &l.number); err != nil {
			return nil, err
		}
	}
	added := map[string][][]any{}
	for _, name := range names(keptBy) {
		var rows [][]any
		var err error
		if name == "messages" { // they stand by person: those of new words, which come before them
			rows, err = w.told(added["message_words"])
		} else {
			rows, err = w.tables[name].ofRequest(w.db, l.id, l.number)
		}
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

// told are the messages of words.
func (w *writer) told(words [][]any) (all [][]any, err error) {
	at := w.tables["message_words"].at("id")
	for _, row := range words {
		told, err := w.tables["messages"].rows(w.db, "JOIN (SELECT id AS told FROM people) ON person = told AND words = ?", row[at])
		if err != nil {
			return nil, err
		}
		all = append(all, told...)
	}
	return all, nil
}
