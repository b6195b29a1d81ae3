package web

import (
	"context"
	"encoding/json"
	"time"

	"heptad/internal/core/rehearse"
	"heptad/internal/work"
)

// studyView is something that is worked out of a draft in the background.
type studyView struct {
	ID       string     `json:"id"`
	State    string     `json:"state" enum:"running,done,stopped,failed"`
	Trouble  string     `json:"trouble,omitempty"`
	By       string     `json:"by" doc:"Name"`
	Version  int        `json:"version" doc:"Number of the version it was worked out of"`
	Revision int        `json:"revision" doc:"Of the draft it was worked out of"`
	BeganAt  time.Time  `json:"beganAt"`
	EndedAt  *time.Time `json:"endedAt,omitempty"`
	Done     int        `json:"done" doc:"While it runs"`
	Of       int        `json:"of"`
	Old      bool       `json:"old" doc:"The draft is another now"`
}

func (h rehearsing) study(s work.Studied) studyView {
	return studyView{s.ID, s.State, s.Trouble, h.Office.Company().Name(s.Person), s.Number, s.Revision, s.BeganAt, reached(s.EndedAt), s.Done, s.Of, s.Old}
}

// StudyInput names a study of an offering.
type StudyInput struct {
	OfferingInput
	Study string `path:"study" maxLength:"60" doc:"ID"`
}

type studyBegun struct {
	ID string `json:"id"`
}

func (h rehearsing) listed(ctx context.Context, key, kind string) (*body[listOf[studyView]], error) {
	all, err := h.Office.Rehearsing.Studies(ctx, me(ctx), key, kind)
	out := listOf[studyView]{Entries: []studyView{}}
	for _, s := range all {
		out.Entries = append(out.Entries, h.study(s))
	}
	return answer(out, err)
}

// result reads what a study came to, and what was asked for it.
func result[A, R any](s work.Studied) (asked A, out *R, err error) {
	if err = json.Unmarshal(s.Asked, &asked); err != nil || s.Result == nil {
		return asked, nil, err
	}
	out = new(R)
	return asked, out, json.Unmarshal(s.Result, out)
}

func (h rehearsing) replays(ctx context.Context, in *OfferingInput) (*body[listOf[studyView]], error) {
	return h.listed(ctx, in.Offering, work.ReplayStudy)
}

func (h rehearsing) beginReplay(ctx context.Context, in *struct {
	OfferingInput
	Body work.ReplayAsked
}) (*body[studyBegun], error) {
	id, err := h.Office.Rehearsing.Replay(ctx, me(ctx), in.Offering, in.Body)
	return answer(studyBegun{id}, err)
}

type replayBody struct {
	Study  studyView        `json:"study"`
	Asked  work.ReplayAsked `json:"asked"`
	Result *rehearse.Replay `json:"result,omitempty"`
}

func (h rehearsing) replay(ctx context.Context, in *StudyInput) (*body[replayBody], error) {
	s, err := h.Office.Rehearsing.Study(ctx, me(ctx), in.Offering, in.Study)
	if err != nil {
		return nil, err
	}
	asked, out, err := result[work.ReplayAsked, rehearse.Replay](s)
	return answer(replayBody{Study: h.study(s), Asked: asked, Result: out}, err)
}

func (h rehearsing) foresights(ctx context.Context, in *OfferingInput) (*body[listOf[studyView]], error) {
	return h.listed(ctx, in.Offering, work.ForeseeStudy)
}

func (h rehearsing) beginForesight(ctx context.Context, in *struct {
	OfferingInput
	Body work.SeasonAsked
}) (*body[studyBegun], error) {
	id, err := h.Office.Rehearsing.Foresee(ctx, me(ctx), in.Offering, in.Body)
	return answer(studyBegun{id}, err)
}

type foresightBody struct {
	Study  studyView        `json:"study"`
	Asked  work.SeasonAsked `json:"asked"`
	Result *work.Foresight  `json:"result,omitempty"`
}

func (h rehearsing) foresight(ctx context.Context, in *StudyInput) (*body[foresightBody], error) {
	s, err := h.Office.Rehearsing.Study(ctx, me(ctx), in.Offering, in.Study)
	if err != nil {
		return nil, err
	}
	asked, out, err := result[work.SeasonAsked, work.Foresight](s)
	return answer(foresightBody{Study: h.study(s), Asked: asked, Result: out}, err)
}

func (h rehearsing) stopStudy(ctx context.Context, in *StudyInput) (*body[none], error) {
	return answer(none{}, h.Office.Rehearsing.StopStudy(ctx, me(ctx), in.Offering, in.Study))
}
