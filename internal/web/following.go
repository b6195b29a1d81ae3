package web

import (
	"context"
	"slices"
	"time"

	"heptad/internal/core/form"
	"heptad/internal/core/people"
	"heptad/internal/core/request"
	"heptad/internal/work"
)

// myRequests is one page of the reader's requests, by what they wait for.
type myRequests struct {
	Entries []RequestLine `json:"entries" nullable:"false"`
	Next    string        `json:"next,omitempty" doc:"Ask for what comes after; empty at the end"`
	Counts  []groupCount  `json:"counts" nullable:"false" doc:"Of all that there are, in order"`
	First   string        `json:"first,omitempty" doc:"What who names none is led to"`
}

type groupCount struct {
	Group work.Group `json:"group"`
	Count int        `json:"count"`
}

func (h following) myRequests(ctx context.Context, in *struct {
	PageInput
	Words string     `query:"words" maxLength:"100" doc:"Parts of the title, the reference or a name"`
	Group work.Group `query:"group" doc:"What they wait for; all when left out"`
	Sort  string     `query:"sort" enum:"changed,likely,due,sent" doc:"Within a group; the last changed first when left out"`
}) (*body[myRequests], error) {
	entries, err := h.Office.Following.RequestsOf(ctx, me(ctx), work.Mine{Page: in.page(), Words: in.Words, Group: in.Group, Sort: in.Sort})
	if err != nil {
		return nil, err
	}
	page := listing(entries, in.Limit, func(e work.Entry) RequestLine {
		line := h.line(ctx, e)
		line.Group = work.Group(e.Key)
		return line
	})
	out := myRequests{page.Entries, page.Next, []groupCount{}, ""}
	sent := slices.DeleteFunc(slices.Clone(page.Entries), func(r RequestLine) bool { return r.Status == request.Draft })
	first := firstOf(sent, func(r RequestLine) bool { return r.Yours }, func(r RequestLine) bool { return r.Status != request.Closed })
	if first != nil {
		out.First = first.ID
	}
	counts, err := h.Office.Following.GroupsOf(ctx, me(ctx))
	for _, group := range work.Groups {
		if counts[group] > 0 {
			out.Counts = append(out.Counts, groupCount{group, counts[group]})
		}
	}
	return answer(out, err)
}

func (h following) request(ctx context.Context, in *RequestInput) (*body[requestSheet], error) {
	seen, err := h.Office.See(ctx, me(ctx), in.Request)
	if err != nil {
		return nil, err
	}
	if v := seen.Viewer; !v.SeesRequest() && len(v.Tasks) == 0 && !v.Foreseen && !v.Warned {
		return nil, work.ErrNotFound
	}
	return h.sheet(ctx, seen)
}

// exportedRequest is one request as others can read it.
type exportedRequest struct {
	Format     string       `json:"format" enum:"heptad/request/1"`
	ExportedAt time.Time    `json:"exportedAt"`
	Request    requestSheet `json:"request" doc:"What the reader may see of it"`
}

func (h following) exportRequest(ctx context.Context, in *RequestInput) (*attachment[exportedRequest], error) {
	sheet, err := h.request(ctx, in)
	if err != nil {
		return nil, err
	}
	if err := h.Office.Auditing.Taken(ctx, me(ctx), sheet.Body.ID, sheet.Body.Title); err != nil {
		return nil, err
	}
	name := sheet.Body.Reference
	if name == "" {
		name = "draft"
	}
	return attached(name+".json", exportedRequest{"heptad/request/1", h.Office.Clock().UTC(), sheet.Body}), nil
}

func (h following) confirm(ctx context.Context, in *struct {
	RequestInput
	Body struct {
		Remark string `json:"remark,omitempty" maxLength:"2000"`
	}
}) (*body[none], error) {
	return h.do(ctx, in.Request, request.Confirm{Remark: in.Body.Remark})
}

func (h following) rate(ctx context.Context, in *struct {
	RequestInput
	Body RatingBody
}) (*body[none], error) {
	return h.do(ctx, in.Request, in.Body.command())
}

func (h following) sendBack(ctx context.Context, in *struct {
	RequestInput
	Body struct {
		Text  string   `json:"text" maxLength:"2000" doc:"What is not right"`
		Lines []string `json:"lines,omitempty" maxItems:"200" nullable:"false" doc:"Names of what is not right, of those the request lists"`
	}
}) (*body[none], error) {
	return h.do(ctx, in.Request, request.SendBack{Text: in.Body.Text, Lines: in.Body.Lines})
}

func (h following) resubmit(ctx context.Context, in *struct {
	RequestInput
	Body struct {
		Answers form.Answers `json:"answers,omitempty" maxProperties:"500" doc:"As they are now; those of the request when left out"`
		Reply   string       `json:"reply,omitempty" maxLength:"2000" doc:"Needed when no answer of the form changes"`
		Slip    string       `json:"slip,omitempty" maxLength:"60" doc:"As the form last had it"`
	}
}) (*body[none], error) {
	return h.do(ctx, in.Request, request.Resubmit{Answers: in.Body.Answers, Reply: in.Body.Reply, Slip: in.Body.Slip})
}

func (h following) withdraw(ctx context.Context, in *struct {
	RequestInput
	Body struct {
		Chosen string `json:"chosen,omitempty" maxLength:"200" doc:"Of the reasons that the request lists"`
		Reason string `json:"reason,omitempty" maxLength:"2000"`
	}
}) (*body[none], error) {
	return h.do(ctx, in.Request, request.Withdraw{Chosen: in.Body.Chosen, Reason: in.Body.Reason})
}

func (h following) comment(ctx context.Context, in *struct {
	RequestInput
	Body struct {
		Text string `json:"text" maxLength:"2000"`
		Task string `json:"task,omitempty" maxLength:"80" doc:"Key of the task it is about"`

		To request.To `json:"to,omitempty" doc:"Who reads it beside the asker's side, the service's owner and home lead: nobody, the team of the task, or all teams at work; those who have it in hand when left out"`
	}
}) (*body[none], error) {
	return h.do(ctx, in.Request, request.Comment{Text: in.Body.Text, Task: in.Body.Task, To: in.Body.To})
}

func (h following) follow(ctx context.Context, in *struct {
	RequestInput
	Body struct {
		Person string `json:"person" maxLength:"60" doc:"ID"`
	}
}) (*body[none], error) {
	return h.do(ctx, in.Request, request.Follow{Person: in.Body.Person})
}

func (h following) unfollow(ctx context.Context, in *struct {
	RequestInput
	Person string `path:"person" maxLength:"60" doc:"ID"`
}) (*body[none], error) {
	return h.do(ctx, in.Request, request.Unfollow{Person: in.Person})
}

// hear enters what the asker, or who it is for, has answered.
func (h following) hear(ctx context.Context, in *struct {
	RequestInput
	Body struct {
		Task string    `json:"task,omitempty" maxLength:"80" doc:"Key of the task that was asked about; what was asked back when left out"`
		Text string    `json:"text" maxLength:"2000" doc:"In their words"`
		From string    `json:"from" maxLength:"60" doc:"ID of who said it"`
		How  string    `json:"how" maxLength:"40" doc:"Such as phone"`
		At   time.Time `json:"at" doc:"When they said it"`
	}
}) (*body[none], error) {
	b := in.Body
	return h.do(ctx, in.Request, request.Hear{Task: b.Task, Text: b.Text, From: b.From, How: b.How, At: b.At})
}

// silence lets the reader hear no more news of a request, or again. What waits for
// them is told all the same.
func (h following) silence(ctx context.Context, in *struct {
	RequestInput
	Body struct {
		Silent bool `json:"silent"`
	}
}) (*body[none], error) {
	err := h.Office.Following.Silence(ctx, me(ctx), in.Request, in.Body.Silent)
	return answer(none{}, err)
}

// haveView is something that the reader has.
type haveView struct {
	people.Belonging
	Request string     `json:"request,omitempty" doc:"ID of the one that made it"`
	Since   *time.Time `json:"since,omitempty"`
	Fits    []fitView  `json:"fits" nullable:"false" doc:"What can be asked for it"`
}

type fitView struct {
	Offering string `json:"offering" doc:"Key"`
	Name     string `json:"name"`
	Does     string `json:"does" enum:"change,extend,handBack"`
	Question string `json:"question" doc:"Key of the question that names it"`
}

func (h following) have(ctx context.Context, _ *none) (*body[listOf[haveView]], error) {
	all, err := h.Office.Following.HaveOf(ctx, me(ctx))
	out := listOf[haveView]{Entries: []haveView{}}
	for _, had := range all {
		view := haveView{Belonging: had.Belonging.Belonging, Request: had.Request, Since: reached(had.Since), Fits: []fitView{}}
		for _, fit := range had.Fits {
			view.Fits = append(view.Fits, fitView(fit))
		}
		out.Entries = append(out.Entries, view)
	}
	return answer(out, err)
}
