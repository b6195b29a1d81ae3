package load

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"net/http"
	"slices"
	"sync"
	"sync/atomic"
	"time"

	"heptad/internal/demo"
)

// measuredOffering is what is asked for where submissions are measured.
const measuredOffering = "berth-side-parking"

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
		id, body, err := p.draft(ctx, measuredOffering)
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
