package connect

import (
	"bytes"
	"context"
	"encoding/json"
	"io"
	"net/http"
	"time"

	"heptad/internal/core/plan"
)

// Badges writes badges through the HTTP interface of the badge system.
type Badges struct {
	base   string
	client *http.Client
}

// NewBadges speaks to the badge system at a base URL.
func NewBadges(base string) *Badges {
	return &Badges{base: base, client: &http.Client{Timeout: 10 * time.Second}}
}

// maxReply is how much of a reply is read, in bytes.
const maxReply = 64 << 10

// Describe tells what the badge system can do.
func (b *Badges) Describe() plan.Connector {
	return plan.Connector{Key: "badges", Name: "Badge system", Actions: []plan.ActionType{{
		Key: "write", Name: "Write a badge",
		Inputs:  []plan.Field{{Key: "holder", Name: "Name on the badge"}, {Key: "opens", Name: "What it opens"}},
		Outputs: []plan.Field{{Key: "number", Name: "Badge number"}},
	}}}
}

// Do posts the badge with its Idempotency-Key.
func (b *Badges) Do(ctx context.Context, call Call) (map[string]string, error) {
	if call.Do != "write" {
		return nil, troublef("The badge system cannot do %q.", call.Do)
	}
	body, err := json.Marshal(call.Inputs)
	if err != nil {
		return nil, err
	}
	request, err := http.NewRequestWithContext(ctx, http.MethodPost, b.base+"/badges", bytes.NewReader(body))
	if err != nil {
		return nil, err
	}
	request.Header.Set("Content-Type", "application/json")
	request.Header.Set("Idempotency-Key", call.Key)
	response, err := b.client.Do(request)
	if err != nil {
		return nil, troublef("The badge system does not answer.")
	}
	defer response.Body.Close()
	data, err := io.ReadAll(io.LimitReader(response.Body, maxReply))
	if err != nil {
		return nil, troublef("The badge system broke off its answer.")
	}
	var reply struct {
		Number string `json:"number"`
		Detail string `json:"detail"`
	}
	if err := json.Unmarshal(data, &reply); err != nil || (response.StatusCode < 300 && reply.Number == "") {
		return nil, troublef("The badge system gave an answer that cannot be read (status %d).", response.StatusCode)
	}
	if response.StatusCode >= 300 {
		return nil, troublef("The badge system refused: %s", reply.Detail)
	}
	return map[string]string{"number": reply.Number}, nil
}
