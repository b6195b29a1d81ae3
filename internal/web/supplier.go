package web

import (
	"context"

	"heptad/internal/work"
)

// SupplierInput is the link of a supplier.
type SupplierInput struct {
	Token string `path:"token" maxLength:"400"`
}

// supplied is what a supplier sees.
type supplied struct {
	Name      string `json:"name"`
	Reference string `json:"reference"`
	Subject   string `json:"subject"`
	Text      string `json:"text"`
	Trouble   string `json:"trouble,omitempty" doc:"Why nothing can be answered any more"`
}

func (h managing) openSupplier(ctx context.Context, in *SupplierInput) (*body[supplied], error) {
	out, err := h.Office.Connecting.OpenSupplier(ctx, in.Token)
	return answer(supplied(out), err)
}

func (h managing) answerSupplier(ctx context.Context, in *struct {
	SupplierInput
	Body struct {
		State  string `json:"state" enum:"done,begun,refused"`
		Number string `json:"number,omitempty" maxLength:"60" doc:"The supplier's own"`
		Day    string `json:"day,omitempty" maxLength:"10" doc:"RFC 3339"`
		Words  string `json:"words,omitempty" maxLength:"2000"`
	}
}) (*body[none], error) {
	return answer(none{}, h.Office.Connecting.AnswerSupplier(ctx, in.Token, work.SupplierAnswer(in.Body)))
}
