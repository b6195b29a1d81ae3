package connect

import (
	"context"
	"crypto/hmac"
	"crypto/sha256"
	"encoding/hex"
	"errors"
	"fmt"
	"net/http"
	"net/url"
	"strconv"
	"time"

	"heptad/internal/core/plan"
)

// Purchasing sends orders to the purchasing system, which reports their
// delivery days later.
type Purchasing struct {
	api
	reports string // URL to which it reports
}

// NewPurchasing speaks to the purchasing system, which reports to a URL.
func NewPurchasing(reach Reach, reports string) *Purchasing {
	return &Purchasing{newAPI("The purchasing system", reach), reports}
}

// Describe tells what the purchasing system can do.
func (p *Purchasing) Describe() plan.Connector {
	return plan.Connector{Key: "purchasing", Name: "Purchasing", Actions: []plan.ActionType{
		{
			Key: "order", Name: "Order", Undo: "cancel", Later: true,
			Inputs:  []plan.Field{text("item", "What"), number("quantity", "How many"), free("costCentre", "Cost centre"), free("expected", "Expected cost"), free("place", "Deliver to")},
			Outputs: []plan.Field{text("order", "Order number"), free("supplier", "Supplier's number"), plan.Field{Key: "cost", Name: "What it cost", Kind: plan.Money, Real: true, Free: true}},
		},
		{Key: "cancel", Name: "Cancel an order", Inputs: []plan.Field{text("order", "Order number")}, Outputs: []plan.Field{}},
	}}
}

// Order is what is sent to the purchasing system.
type Order struct {
	Key        string `json:"key"` // under which it reports
	Item       string `json:"item"`
	Quantity   int    `json:"quantity"`
	CostCentre string `json:"costCentre,omitempty"`
	Expected   string `json:"expected,omitempty"`
	Place      string `json:"place,omitempty"`
	Reports    string `json:"reports"` // URL it reports to
}

// Do makes one call, with its Idempotency-Key.
func (p *Purchasing) Do(ctx context.Context, c Call) (Reply, error) {
	switch c.Do {
	case "order":
		quantity, err := strconv.ParseFloat(c.input("quantity"), 64)
		if err != nil || quantity < 1 || quantity != float64(int(quantity)) {
			return Reply{}, refused("%q is no number to order.", c.input("quantity"))
		}
		var out struct{ Order string }
		order := Order{c.Key, c.input("item"), int(quantity), c.input("costCentre"), c.input("expected"), c.input("place"), p.reports}
		if err := p.ask(ctx, http.MethodPost, "/orders", c.Key, order, &out); err != nil {
			return Reply{}, p.gone(err, "The purchasing system takes no orders.")
		}
		if out.Order == "" {
			return Reply{}, Trouble{Sentence: "The purchasing system gave an answer without a number."}
		}
		return Reply{Outputs: map[string]string{"order": out.Order}, Later: true}, nil
	case "cancel":
		path := "/orders/" + url.PathEscape(c.input("order"))
		if c.Undoes != "" {
			path = "/orders?key=" + url.QueryEscape(c.Undoes)
		}
		if err := p.ask(ctx, http.MethodDelete, path, c.Key, nil, nil); err != nil && !errors.Is(err, errGone) {
			return Reply{}, err
		}
		return Reply{}, nil
	}
	return Reply{}, refused("The purchasing system cannot do %q.", c.Do)
}

// Delivery is what the purchasing system reports.
type Delivery struct {
	Key       string `json:"key"`  // of the order
	Step      string `json:"step"` // differs for each report of an order
	State     string `json:"state" enum:"confirmed,partial,delivered,refused"`
	Supplier  string `json:"supplier,omitempty"` // its number there
	Delivered int    `json:"delivered"`          // how many came so far
	Cost      string `json:"cost,omitempty"`
	Words     string `json:"words,omitempty"`
}

// SignatureHeader and TimeHeader carry the signature of a report, and the Unix
// second it was made at.
const (
	SignatureHeader = "X-Signature-SHA256"
	TimeHeader      = "X-Signature-Time"
)

// staleAfter is how old, or how far ahead, the time of a signature may be.
const staleAfter = 5 * time.Minute

// Sign signs the body of a report: HMAC-SHA256 over the time, a dot and the
// body, in hexadecimal.
func Sign(secret string, at time.Time, body []byte) (signature, stamp string) {
	stamp = strconv.FormatInt(at.Unix(), 10)
	mac := hmac.New(sha256.New, []byte(secret))
	_, _ = fmt.Fprintf(mac, "%s.%s", stamp, body) // a hash never fails
	return hex.EncodeToString(mac.Sum(nil)), stamp
}

// Verify checks the signature of a report.
func Verify(secret, signature, stamp string, body []byte, now time.Time) bool {
	seconds, err := strconv.ParseInt(stamp, 10, 64)
	if err != nil || secret == "" {
		return false
	}
	at := time.Unix(seconds, 0)
	if now.Sub(at).Abs() > staleAfter {
		return false
	}
	right, _ := Sign(secret, at, body)
	return hmac.Equal([]byte(right), []byte(signature))
}
