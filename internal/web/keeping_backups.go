package web

import (
	"context"
	"fmt"
	"path/filepath"
	"time"

	"heptad/internal/work"
)

// backupsBody is how the backups go that are made at set times.
type backupsBody struct {
	Dir  string      `json:"dir,omitempty" doc:"Folder they are made in; left out when none are made"`
	At   []string    `json:"at" nullable:"false" doc:"Times of the day, in the zone of the organisation"`
	Keep int         `json:"keep" doc:"How many are kept"`
	Next *time.Time  `json:"next,omitempty"`
	Late bool        `json:"late" doc:"The one that was due last is not there"`
	Last *backupRun  `json:"last,omitempty" doc:"The last that was made"`
	Runs []backupRun `json:"runs" nullable:"false" doc:"How the last went, the last first"`
}

type backupRun struct {
	At      time.Time `json:"at"`
	File    string    `json:"file" doc:"Its name"`
	Size    int64     `json:"size" doc:"Bytes"`
	Took    float64   `json:"took" doc:"Seconds"`
	Trouble string    `json:"trouble,omitempty" doc:"Why none was made"`
}

func (h keeping) backups(ctx context.Context, _ *none) (*body[backupsBody], error) {
	made, err := h.Office.Keeping.BackupsMade(ctx, me(ctx))
	if err != nil {
		return nil, err
	}
	out := backupsBody{At: []string{}, Late: made.Late, Runs: []backupRun{}}
	if set := made.Set; set != nil {
		out.Dir, out.Keep, out.Next = set.Dir, set.Keep, &made.Next
		for _, at := range set.At {
			out.At = append(out.At, fmt.Sprintf("%02d:%02d", int(at.Hours()), int(at.Minutes())%60))
		}
	}
	view := func(r work.BackupRun) backupRun {
		return backupRun{r.At(), filepath.Base(r.File), r.Size, r.Took().Seconds(), r.Trouble}
	}
	if made.Last != nil {
		last := view(*made.Last)
		out.Last = &last
	}
	for _, r := range made.Runs {
		out.Runs = append(out.Runs, view(r))
	}
	return answer(out, nil)
}

// heldBody is what would go out after a restore.
type heldBody struct {
	Made      time.Time      `json:"made" doc:"The backup"`
	At        time.Time      `json:"at" doc:"When it was restored"`
	Calls     []outgoingView `json:"calls" nullable:"false"`
	Mails     []outgoingView `json:"mails" nullable:"false"`
	CallCount int            `json:"callCount"`
	MailCount int            `json:"mailCount"`
}

type outgoingView struct {
	Reference string    `json:"reference,omitempty"`
	What      string    `json:"what" doc:"Name of the system that is called, or subject of the mail"`
	To        string    `json:"to" doc:"Key of the task, or name of the reader"`
	Due       time.Time `json:"due"`
}

func (h keeping) heldBack(ctx context.Context, _ *none) (*body[heldBody], error) {
	held, err := h.Office.Keeping.HeldBack(ctx, me(ctx))
	if err != nil {
		return nil, err
	}
	views := func(all []work.Outgoing) []outgoingView {
		out := make([]outgoingView, len(all))
		for i, o := range all {
			out[i] = outgoingView{o.Reference, o.What, o.To, o.Due()}
		}
		return out
	}
	return answer(heldBody{held.Made, held.At, views(held.Calls), views(held.Mails), held.Counts[0], held.Counts[1]}, nil)
}

func (h keeping) letGo(ctx context.Context, _ *none) (*body[none], error) {
	return answer(none{}, h.Office.Keeping.LetGo(ctx, me(ctx)))
}
