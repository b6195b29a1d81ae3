package main

import (
	"fmt"
	"time"

	"heptad/internal/doctor"
)

// doctorCommand looks whether a folder is whole. It exits 1 when it is not.
type doctorCommand struct {
	Data string `default:"data" help:"Folder of the data."`
	JSON bool   `name:"json" help:"Print the results as JSON."`
}

func (c *doctorCommand) Run(e *env) error {
	all, ill := []doctor.Result{}, false
	err := doctor.Look(e.ctx, c.Data, time.Now(), func(r doctor.Result) {
		all, ill = append(all, r), ill || !r.Good
		if c.JSON {
			return
		}
		word := "good "
		if !r.Good {
			word = "WRONG"
		}
		fmt.Printf("%s  %-11s  %s\n", word, r.Check, r.Says)
		for _, one := range r.Wrong {
			fmt.Printf("       %-11s  %s\n", "", one)
		}
	})
	if err != nil {
		return err
	}
	if c.JSON {
		if err := printJSON(all); err != nil {
			return err
		}
	}
	if ill {
		return errFindings
	}
	return nil
}
