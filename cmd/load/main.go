// Command load makes large installations and measures Heptad on them, beside a floor.
package main

import (
	"context"
	"errors"
	"fmt"
	"os"
	"os/signal"
	"path/filepath"
	"syscall"
	"time"
	_ "time/tzdata" // time zones, where the system has none

	"github.com/alecthomas/kong"

	"heptad/internal/load"
)

type commands struct {
	Read    readCommand    `cmd:"" help:"Measure what is read."`
	Write   writeCommand   `cmd:"" help:"Measure what acts take, beside bare SQLite."`
	Listen  listenCommand  `cmd:"" help:"Measure what changes cost while many listen."`
	Make    makeCommand    `cmd:"" help:"Make a folder, unless it is there."`
	Phrases phrasesCommand `cmd:"" help:"Write what the demo's season says most often, which the store packs with."`
	Serve   serveCommand   `cmd:"" hidden:""`
	Floor   floorCommand   `cmd:"" hidden:""`
}

// folders are where the installations stand, each named for its requests.
type folders struct {
	Data string `default:"build/load" type:"path" help:"Folder of the folders."`
}

type makeCommand struct {
	folders
	Requests int `default:"10000" help:"How many requests it has."`
}

// Run makes the folder.
func (c *makeCommand) Run(ctx context.Context) error {
	_, err := c.made(ctx, c.Requests)
	return err
}

// made gives the folder of so many requests, and makes it unless it is there.
func (f folders) made(ctx context.Context, requests int) (string, error) {
	size := load.Whole
	size.Requests = requests
	began := time.Now()
	dir := filepath.Join(f.Data, fmt.Sprint(requests))
	return dir, load.Make(ctx, dir, size, time.Now(), func(what string) {
		fmt.Fprintf(os.Stderr, "%6.1f s  %s\n", time.Since(began).Seconds(), what)
	})
}

type readCommand struct {
	folders
	Requests []int  `default:"10000,100000,1000000" help:"On folders of so many requests."`
	Only     string `help:"Only calls with this in their name."`
	Profile  string `type:"path" help:"File to write a profile of the server to."`
}

// Run measures what is read.
func (c *readCommand) Run(ctx context.Context) error {
	var all []load.Reading
	var failed []error
	for _, n := range c.Requests {
		dir, err := c.made(ctx, n)
		if err != nil {
			return err
		}
		r, err := load.Read(ctx, dir, n, c.Only, c.Profile)
		all, failed = append(all, r), append(failed, err)
	}
	load.Report(os.Stdout, all)
	return errors.Join(failed...)
}

type writeCommand struct {
	folders
	Requests []int  `default:"10000,100000,1000000" help:"On folders of so many requests."`
	Profile  string `type:"path" help:"File to write a profile of the server to."`
}

// Run measures what acts take.
func (c *writeCommand) Run(ctx context.Context) error {
	var all []load.Writing
	for _, n := range c.Requests {
		dir, err := c.made(ctx, n)
		if err != nil {
			return err
		}
		w, err := load.Write(ctx, dir, n, c.Profile)
		if err != nil {
			return err
		}
		all = append(all, w)
	}
	load.ReportWriting(os.Stdout, all)
	return nil
}

type listenCommand struct {
	folders
	Requests int `default:"100000" help:"On a folder of so many requests."`
}

// Run measures what changes cost while a thousand tabs listen.
func (c *listenCommand) Run(ctx context.Context) error {
	dir, err := c.made(ctx, c.Requests)
	if err != nil {
		return err
	}
	crowd, err := load.Listen(ctx, dir)
	if err != nil {
		return err
	}
	crowd.Report(os.Stdout)
	return nil
}

type phrasesCommand struct {
	Into string `arg:"" type:"existingdir" help:"Folder to write to."`
}

// Run writes them.
func (c *phrasesCommand) Run(ctx context.Context) error { return load.Phrases(ctx, c.Into, time.Now()) }

type serveCommand struct {
	Data string `required:"" type:"path"`
	Door int    `default:"1200"`

	Profile string `type:"path"`
}

// Run serves a folder.
func (c *serveCommand) Run(ctx context.Context) error {
	return load.Serve(ctx, c.Data, c.Door, c.Profile)
}

type floorCommand struct {
	Data string `required:"" type:"path"`
}

// Run serves the floor.
func (c *floorCommand) Run(ctx context.Context) error { return load.Floor(ctx, c.Data) }

func main() {
	ctx, stop := signal.NotifyContext(context.Background(), os.Interrupt, syscall.SIGTERM)
	defer stop()
	k := kong.Parse(&commands{}, kong.Name("load"))
	k.BindTo(ctx, (*context.Context)(nil))
	k.FatalIfErrorf(k.Run())
}
