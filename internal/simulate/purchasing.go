package simulate

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
)

// Order is one order that the purchasing system has taken.
type Order struct {
	connect.Order
	Number    string   `json:"number"`
	Delivered int      `json:"delivered"`
	State     string   `json:"state"`
	Cancelled bool     `json:"cancelled,omitempty"`
	Steps     int      `json:"steps"`
	Told      []string `json:"told,omitempty"` // what became of its reports
}

// Purchasing is the purchasing system. It takes an order for each key once, and
// reports from its page what is delivered.
type Purchasing struct {
	System
	kept[purchasingFile]
	sign   string // secret that reports are signed with
	client *http.Client
}

type purchasingFile struct {
	Orders []Order         `json:"orders"`
	Void   map[string]bool `json:"void"` // keys that were cancelled before they were ordered
}

// OpenPurchasing reads what the purchasing system did before from a file, or
// begins. Its reports are signed with the secret.
func OpenPurchasing(path, secret string) (*Purchasing, error) {
	p := &Purchasing{System: System{name: "The purchasing system", deeds: []deed{{"confirmed", "Confirmed"}, {"partial", "One more came"}, {"delivered", "All came"}, {"refused", "Refused"}}}, sign: secret, client: &http.Client{Timeout: 10 * time.Second}}
	return p, p.open(path, purchasingFile{Void: map[string]bool{}})
}

// Orders lists all orders.
func (p *Purchasing) Orders() []Order { return p.read().Orders }

// Handler serves the purchasing system: POST /orders takes one, DELETE
// /orders/{number} cancels it, DELETE /orders?key= the one of a key, POST
// /orders/{number}/report sends a report on it.
func (p *Purchasing) Handler() http.Handler {
	mux := http.NewServeMux()
	mux.HandleFunc("POST /orders", p.take)
	mux.HandleFunc("DELETE /orders/{number}", p.cancel)
	mux.HandleFunc("DELETE /orders", p.cancel)
	outer := http.NewServeMux()
	outer.HandleFunc("POST /orders/{number}/report", p.reportNow)
	outer.HandleFunc("POST /deeds/{number}", p.reportFromPage)
	outer.HandleFunc("GET /orders", func(w http.ResponseWriter, _ *http.Request) { reply(w, http.StatusOK, p.Orders()) })
	outer.Handle("/", p.handler(mux, func() [][]string {
		rows := [][]string{{"Order", "What", "Ordered", "Came", "Expected", "Now", "Reports"}}
		for _, o := range slices.Backward(p.Orders()) {
			rows = append(rows, []string{o.Number, o.Item, strconv.Itoa(o.Quantity), strconv.Itoa(o.Delivered), o.Expected, o.State, strings.Join(o.Told, ", ")})
		}
		return rows
	}))
	return outer
}

func (p *Purchasing) take(w http.ResponseWriter, r *http.Request) {
	in, err := decoded[connect.Order](r)
	if err == nil && (in.Key == "" || in.Item == "" || in.Quantity < 1) {
		err = refusal{http.StatusBadRequest, "A key, an item and a quantity are needed."}
	}
	var order Order
	if err == nil {
		err = p.change(func(s *purchasingFile) error {
			if i := slices.IndexFunc(s.Orders, func(o Order) bool { return o.Key == in.Key }); i >= 0 {
				order = s.Orders[i]
				return nil
			}
			if s.Void[in.Key] {
				return refusal{http.StatusGone, "This was cancelled before it was ordered."}
			}
			order = Order{Order: in, Number: "PO-" + strconv.Itoa(3001+len(s.Orders)), State: "ordered"}
			s.Orders = append(s.Orders, order)
			return nil
		})
	}
	answer(w, http.StatusCreated, map[string]string{"order": order.Number}, err)
}

func (p *Purchasing) cancel(w http.ResponseWriter, r *http.Request) {
	key, number := r.URL.Query().Get("key"), r.PathValue("number")
	err := p.change(func(s *purchasingFile) error {
		i := slices.IndexFunc(s.Orders, func(o Order) bool { return o.Key == key || number != "" && o.Number == number })
		switch {
		case i >= 0:
			s.Orders[i].Cancelled, s.Orders[i].State = true, "cancelled"
		case key == "":
			return refusal{http.StatusNotFound, "There is no such order."}
		default:
			s.Void[key] = true
		}
		return nil
	})
	answer(w, http.StatusNoContent, nil, err)
}

func (p *Purchasing) reportNow(w http.ResponseWriter, r *http.Request) {
	in, err := decoded[connect.Delivery](r)
	if err != nil {
		answer(w, 0, nil, err)
		return
	}
	status, err := p.Report(r.Context(), r.PathValue("number"), in)
	answer(w, http.StatusOK, map[string]int{"status": status}, err)
}

// reportFromPage sends the report that somebody has pressed.
func (p *Purchasing) reportFromPage(w http.ResponseWriter, r *http.Request) {
	d := connect.Delivery{State: r.PostFormValue("state")}
	if i := slices.IndexFunc(p.Orders(), func(o Order) bool { return o.Number == r.PathValue("number") }); i >= 0 && d.State == "partial" {
		d.Delivered = min(p.Orders()[i].Delivered+1, p.Orders()[i].Quantity)
	}
	if d.State == "refused" {
		d.Words = "The supplier has none left."
	}
	if _, err := p.Report(r.Context(), r.PathValue("number"), d); err != nil {
		answer(w, 0, nil, err)
		return
	}
	http.Redirect(w, r, "/", http.StatusSeeOther)
}

// Report tells Heptad of an order, signed; with the fault it does so twice. It
// gives the status of the answer. What the report leaves out is filled in.
func (p *Purchasing) Report(ctx context.Context, number string, d connect.Delivery) (int, error) {
	var to string
	err := p.change(func(s *purchasingFile) error {
		i := slices.IndexFunc(s.Orders, func(o Order) bool { return o.Number == number })
		if i < 0 {
			return refusal{http.StatusNotFound, "There is no such order."}
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
	if err == nil && p.wrong().Twice {
		status, err = p.send(ctx, to, d)
	}
	if err != nil {
		return 0, refusal{http.StatusBadGateway, "Heptad does not answer."}
	}
	return status, p.change(func(s *purchasingFile) error {
		i := slices.IndexFunc(s.Orders, func(o Order) bool { return o.Number == number })
		s.Orders[i].Told = append(s.Orders[i].Told, fmt.Sprintf("%s: %d", d.State, status))
		return nil
	})
}

func (p *Purchasing) send(ctx context.Context, to string, d connect.Delivery) (int, error) {
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
