package main

import (
	"errors"
	"fmt"
	"time"

	"heptad/internal/store"
	"heptad/internal/work"
)

type keyCommands struct {
	Rotate rotateCommand `cmd:"" help:"Seal all secrets anew with another key; Heptad must not be running."`
}

type rotateCommand struct {
	Data string `required:"" type:"existingdir" env:"HEPTAD_DATA" help:"Folder of the data."`
	Keys string `type:"existingdir" env:"HEPTAD_KEYS" help:"Folder of the keys; that of the data when left out."`
}

// Run makes another key and seals all with it. Cut off anywhere, the next start ends it.
func (c *rotateCommand) Run(e *env) (err error) {
	if c.Keys == "" {
		c.Keys = c.Data
	}
	kept, err := store.Open(e.ctx, c.Data)
	if err != nil {
		return err
	}
	defer func() { err = errors.Join(err, kept.Close()) }()
	const name = "connectors"
	if err := kept.SettleKey(e.ctx, c.Keys, name); err != nil {
		return err
	}
	old, err := store.Secret(c.Keys, name, false)
	if err != nil {
		return err
	}
	if err := kept.KnowKey(e.ctx, name, old); err != nil {
		return err
	}
	next, err := store.NewKey(c.Keys, name)
	if err != nil {
		return err
	}
	n, err := work.Rotate(e.ctx, kept, old, next, time.Now)
	if err != nil {
		return err
	}
	if err := store.TakeKey(c.Keys, name); err != nil {
		return err
	}
	fmt.Printf("%d secrets are sealed anew. Backups from before need the key from before: keep it with them.\n", n)
	return nil
}
