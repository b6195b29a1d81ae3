package main

import (
	"encoding/json"
	"errors"
	"fmt"
	"os"
	"time"
	_ "time/tzdata" // time zones, where the system has none

	"heptad/internal/connect/systems"
	"heptad/internal/core/offering"
	"heptad/internal/store"
	"heptad/internal/work"
)

type exportCommand struct {
	Data string `default:"data" help:"Folder of the data."`
	File string `arg:"" optional:"" default:"-" help:"File to write; standard output when left out."`
}

// office opens a data folder that no Heptad runs on.
func office(e *env, dir string) (*work.Office, error) {
	kept, err := store.Open(e.ctx, dir)
	if err != nil {
		return nil, err
	}
	o, err := work.New(e.ctx, work.Settings{Store: kept, Clock: time.Now, Connectors: systems.Nowhere(), Log: e.log})
	if err != nil {
		return nil, errors.Join(err, kept.Close())
	}
	return o, nil
}

func (c *exportCommand) Run(e *env) error {
	o, err := office(e, c.Data)
	if err != nil {
		return err
	}
	catalog, err := o.Designing.ExportAll(e.ctx)
	if err = errors.Join(err, o.Store.Close()); err != nil {
		return err
	}
	if c.File == "-" {
		return printJSON(catalog)
	}
	data, err := json.MarshalIndent(catalog, "", "  ")
	if err != nil {
		return err
	}
	return os.WriteFile(c.File, append(data, '\n'), 0o644)
}

type importCommand struct {
	File    string `arg:"" help:"Catalog, as export writes it."`
	Data    string `default:"data" help:"Folder of the data."`
	As      string `required:"" help:"Login of the owner of the services."`
	Preview bool   `help:"Print what would change, and change nothing."`
	Publish bool   `help:"Publish what has neither errors nor warnings."`
}

func (c *importCommand) Run(e *env) error {
	data, err := readAll(c.File)
	if err != nil {
		return err
	}
	catalog, err := offering.ParseCatalog(data)
	if err != nil {
		return fmt.Errorf("%s: %w", c.File, err)
	}
	o, err := office(e, c.Data)
	if err != nil {
		return err
	}
	incoming, err := c.bring(e, o, catalog)
	if err = errors.Join(err, o.Store.Close()); err != nil {
		return err
	}
	for _, in := range incoming {
		fmt.Printf("%-8s  %s  %s\n", in.Does, in.Key, in.Why)
		for _, ch := range in.Changes {
			fmt.Printf("          %s\n", ch.Sentence)
		}
	}
	return nil
}

func (c *importCommand) bring(e *env, o *work.Office, catalog offering.Catalog) ([]work.Incoming, error) {
	p, ok := o.Company().ByLogin(c.As)
	if !ok {
		return nil, fmt.Errorf("there is nobody with the login %q", c.As)
	}
	homes, owners := map[string]string{}, map[string]string{} // as in the file, where they are known here
	for _, s := range o.Designing.NewServices(catalog) {
		homes[s.Key], owners[s.Key] = s.Home, s.Owner
	}
	return o.Designing.Import(e.ctx, p.ID, catalog, work.Importing{Preview: c.Preview, Publish: c.Publish, Homes: homes, Owners: owners})
}
