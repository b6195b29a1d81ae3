package main

import (
	"encoding/json"
	"errors"
	"fmt"
	"os"
	"time"

	"heptad/internal/core/measure"
	"heptad/internal/store"
	"heptad/internal/work"
)

type measureCommands struct {
	Rebuild rebuildCommand     `cmd:"" help:"Make all facts that are measured anew from the histories of requests. Nothing else is changed; no Heptad may be running on the folder."`
	Export  exportFactsCommand `cmd:"" help:"Print all facts as JSON lines, one for each request: without answers, titles and names."`
}

type rebuildCommand struct {
	Data string `required:"" type:"existingdir" env:"HEPTAD_DATA" help:"Folder of the data."`
}

// Run makes the facts of a folder anew.
func (c *rebuildCommand) Run(e *env) (err error) {
	kept, err := store.Open(e.ctx, c.Data)
	if err != nil {
		return err
	}
	defer func() { err = errors.Join(err, kept.Close()) }()
	office := work.Closed(work.Settings{Store: kept, Clock: time.Now, Log: e.log})
	begun := time.Now()
	if err := office.Measuring.RemakeFacts(e.ctx); err != nil {
		return err
	}
	count, err := kept.CountSent(e.ctx, 0)
	if err != nil {
		return err
	}
	fmt.Printf("The facts of %d requests are made anew, in %s.\n", count, time.Since(begun).Round(time.Millisecond))
	return nil
}

type exportFactsCommand struct {
	Data string `required:"" type:"existingdir" env:"HEPTAD_DATA" help:"Folder of the data; a Heptad may be running on it."`
}

// factsLine is the facts of one request, as a line.
type factsLine struct {
	measure.Request
	Tasks   []measure.Task   `json:"tasks"`
	Votes   []measure.Vote   `json:"votes"`
	Rungs   []measure.Rung   `json:"decisions"`
	Spells  []measure.Spell  `json:"spells"`
	Ratings []measure.Rating `json:"ratings"`
}

// Run prints the facts of a folder.
func (c *exportFactsCommand) Run(e *env) (err error) {
	in, err := store.Inspect(e.ctx, c.Data)
	if err != nil {
		return err
	}
	defer func() { err = errors.Join(err, in.Close()) }()
	out := json.NewEncoder(os.Stdout)
	for after := int64(0); ; {
		facts, err := in.Facts(e.ctx, after, 500)
		if err != nil || len(facts) == 0 {
			return err
		}
		for _, f := range facts {
			if err := out.Encode(factsLine{f.Request, f.Tasks, f.Votes, f.Rungs, f.Spells, f.Ratings}); err != nil {
				return err
			}
			after = f.Request.Number
		}
	}
}
