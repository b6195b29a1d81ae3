package purchasing

import (
	"bytes"
	"context"
	"encoding/json"
	"fmt"
	"io"
	"net/http"
	"slices"
	"strconv"
	"strings"
	"time"

	"heptad/internal/connect"
	"heptad/internal/simulate"
)

// Taken is one order that the purchasing system has taken. It reads orders by
// names of its own: one that Heptad writes wrong is missing here.
type Taken struct {
	Key        string `json:"key"`
	Item       string `json:"item"`
	Quantity   int    `json:"quantity"`
	CostCentre string `json:"costCentre,omitempty"`
	Expected   string `json:"expected,omitempty"`
	Place      string `json:"place,omitempty"`
	Reports    string `json:"reports"`

	Number    string   `json:"number"`
	Delivered int      `json:"delivered"`
	State     string   `json:"state"`
	Cancelled bool     `json:"cancelled,omitempty"`
	Steps     int      `json:"steps"`
	Told      []string `json:"told,omitempty"` // what became of its reports
}

// Told is what it reports of an order.
type Told struct {
	Key       string `json:"key"`
	Step      string `json:"step"` // differs for each report
	State     string `json:"state"`
	Supplier  string `json:"supplier,omitempty"`
	Delivered int    `json:"delivered"` // how many came so far
	Cost      string `json:"cost,omitempty"`
	Words     string `json:"words,omitempty"`
}

// System is the purchasing system. It takes an order for each key once, and
// reports from its page what is delivered.
type System struct {
	simulate.System
	simulate.Kept[purchasingFile]
	sign   string // secret that reports are signed with
	client *http.Client
}

type purchasingFile struct {
	Orders []Taken         `json:"orders"`
	Void   map[string]bool `json:"void"` // keys that were cancelled before they were ordered
}

// Open reads what the purchasing system did before from a file, or
// begins. Its reports are signed with the secret.
func Open(path, secret string) (*System, error) {
	p := &System{System: simulate.System{Name: "The purchasing system", Deeds: []simulate.Deed{{Key: "confirmed", Name: "Confirmed"}, {Key: "partial", Name: "One more came"}, {Key: "delivered", Name: "All came"}, {Key: "refused", Name: "Refused"}}}, sign: secret, client: &http.Client{Timeout: 10 * time.Second}}
	return p, p.Open(path, purchasingFile{Void: map[string]bool{}})
}

// Orders lists all orders.
func (p *System) Orders() []Taken { return p.Read().Orders }

// Handler serves the purchasing system: POST /orders takes one, DELETE
// /orders/{number} cancels it, DELETE /orders?key= the one of a key, POST
// /orders/{number}/report sends a report on it.
func (p *System) Handler() http.Handler {
	mux := http.NewServeMux()
	mux.HandleFunc("POST /orders", p.take)
	mux.HandleFunc("DELETE /orders/{number}", p.cancel)
	mux.HandleFunc("DELETE /orders", p.cancel)
	outer := http.NewServeMux()
	outer.HandleFunc("POST /orders/{number}/report", p.reportNow)
	outer.HandleFunc("POST /deeds/{number}", p.reportFromPage)
	outer.HandleFunc("GET /orders", func(w http.ResponseWriter, _ *http.Request) { simulate.Reply(w, http.StatusOK, p.Orders()) })
	outer.Handle("/", p.Serve(mux, func() [][]string {
		rows := [][]string{{"Order", "What", "Ordered", "Came", "Expected", "Now", "Reports"}}
		for _, o := range slices.Backward(p.Orders()) {
			rows = append(rows, []string{o.Number, o.Item, strconv.Itoa(o.Quantity), strconv.Itoa(o.Delivered), o.Expected, o.State, strings.Join(o.Told, ", ")})
		}
		return rows
	}))
	return outer
}

func (p *System) take(w http.ResponseWriter, r *http.Request) {
	in, err := simulate.Decoded[Taken](r)
	if err == nil && (in.Key == "" || in.Item == "" || in.Quantity < 1) {
		err = simulate.Refusal{Status: http.StatusBadRequest, Detail: "A key, an item and a quantity are needed."}
	}
	var order Taken
	if err == nil {
		err = p.Change(func(s *purchasingFile) error {
			if i := slices.IndexFunc(s.Orders, func(o Taken) bool { return o.Key == in.Key }); i >= 0 {
				order = s.Orders[i]
				return nil
			}
			if s.Void[in.Key] {
				return simulate.Refusal{Status: http.StatusGone, Detail: "This was cancelled before it was ordered."}
			}
			in.Number, in.State = "PO-"+strconv.Itoa(3001+len(s.Orders)), "ordered"
			order = in
			s.Orders = append(s.Orders, order)
			return nil
		})
	}
	simulate.Answer(w, http.StatusCreated, map[string]string{"order": order.Number}, err)
}

func (p *System) cancel(w http.ResponseWriter, r *http.Request) {
	key, number := r.URL.Query().Get("key"), r.PathValue("number")
	err := p.Change(func(s *purchasingFile) error {
		i := slices.IndexFunc(s.Orders, func(o Taken) bool { return o.Key == key || number != "" && o.Number == number })
		switch {
		case i >= 0:
			s.Orders[i].Cancelled, s.Orders[i].State = true, "cancelled"
		case key == "":
			return simulate.Refusal{Status: http.StatusNotFound, Detail: "There is no such order."}
		default:
			s.Void[key] = true
		}
		return nil
	})
	simulate.Answer(w, http.StatusNoContent, nil, err)
}

func (p *System) reportNow(w http.ResponseWriter, r *http.Request) {
	in, err := simulate.Decoded[Told](r)
	if err != nil {
		simulate.Answer(w, 0, nil, err)
		return
	}
	status, err := p.Report(r.Context(), r.PathValue("number"), in)
	simulate.Answer(w, http.StatusOK, map[string]int{"status": status}, err)
}

// reportFromPage sends the report that somebody has pressed.
func (p *System) reportFromPage(w http.ResponseWriter, r *http.Request) {
	d := Told{State: r.PostFormValue("state")}
	if i := slices.IndexFunc(p.Orders(), func(o Taken) bool { return o.Number == r.PathValue("number") }); i >= 0 && d.State == "partial" {
		d.Delivered = min(p.Orders()[i].Delivered+1, p.Orders()[i].Quantity)
	}
	if d.State == "refused" {
		d.Words = "The supplier has none left."
	}
	if _, err := p.Report(r.Context(), r.PathValue("number"), d); err != nil {
		simulate.Answer(w, 0, nil, err)
		return
	}
	http.Redirect(w, r, "/", http.StatusSeeOther)
}

// Report tells Heptad of an order, signed; with the fault it does so twice. It
// gives the status of the answer. What the report leaves out is filled in.
func (p *System) Report(ctx context.Context, number string, d Told) (int, error) {
	var to string
	err := p.Change(func(s *purchasingFile) error {
		i := slices.IndexFunc(s.Orders, func(o Taken) bool { return o.Number == number })
		if i < 0 {
			return simulate.Refusal{Status: http.StatusNotFound, Detail: "There is no such order."}
		}
		o := &s.Orders[i]
		o.Steps++
		d.Key, to = o.Key, o.Reports
		if d.Step == "" {
			d.Step = number + "/" + strconv.Itoa(o.Steps)
		}
		if d.State == "delivered" && d.Delivered == 0 {
			d.Delivered = o.Quantity
		}
		if d.Supplier == "" {
			d.Supplier = "S-" + number[3:]
		}
		o.Delivered, o.State = max(o.Delivered, d.Delivered), d.State
		return nil
	})
	if err != nil {
		return 0, err
	}
	status, err := p.send(ctx, to, d)
	if err == nil && p.Wrong().Twice {
		status, err = p.send(ctx, to, d)
	}
	if err != nil {
		return 0, simulate.Refusal{Status: http.StatusBadGateway, Detail: "Heptad does not answer."}
	}
	return status, p.Change(func(s *purchasingFile) error {
		i := slices.IndexFunc(s.Orders, func(o Taken) bool { return o.Number == number })
		s.Orders[i].Told = append(s.Orders[i].Told, fmt.Sprintf("%s: %d", d.State, status))
		return nil
	})
}

func (p *System) send(ctx context.Context, to string, d Told) (int, error) {
	body, err := json.Marshal(d)
	if err != nil {
		return 0, err
	}
	request, err := http.NewRequestWithContext(ctx, http.MethodPost, to, bytes.NewReader(body))
	if err != nil {
		return 0, err
	}
	signature, stamp := connect.Sign(p.sign, time.Now(), body)
	request.Header.Set("Content-Type", "application/json")
	request.Header.Set(connect.SignatureHeader, signature)
	request.Header.Set(connect.TimeHeader, stamp)
	response, err := p.client.Do(request)
	if err != nil {
		return 0, err
	}
	defer response.Body.Close()
	_, err = io.Copy(io.Discard, response.Body)
	return response.StatusCode, err
}
