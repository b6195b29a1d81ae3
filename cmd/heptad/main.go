// Command heptad is the whole program: see its --help.
package main

import (
	"context"
	"errors"
	"fmt"
	"log/slog"
	"os"
	"os/signal"
	"syscall"
	_ "time/tzdata" // time zones, where the system has none

	"github.com/alecthomas/kong"

	"heptad/internal/work"
)

type commands struct {
	Demo     demoCommand      `cmd:"" help:"Run Heptad with the data of a made-up company, on this computer only."`
	Serve    serveCommand     `cmd:"" help:"Run Heptad for a company."`
	Config   configCommand    `cmd:"" help:"Print the settings that are in force, and where they come from."`
	Backup   backupCommand    `cmd:"" help:"Keep the whole of a folder of data in one file; a Heptad may be running on it."`
	Restore  restoreCommand   `cmd:"" help:"Make a folder of data from a backup."`
	Copy     copyCommand      `cmd:"" help:"Make a copy for trying of a folder of data."`
	Keys     keyCommands      `cmd:"" help:"Rotate the key that secrets are sealed with."`
	Measure  measureCommands  `cmd:"" help:"Make what is measured anew, and take it out."`
	Audit    auditCommands    `cmd:"" help:"Verify the audit, and take it out."`
	Offering offeringCommands `cmd:"" help:"Begin, check, work out, compare and move offerings."`
	Calendar calendarCommands `cmd:"" help:"Compute in working time, and move exceptions of calendars."`
	Schema   schemaCommand    `cmd:"" help:"Print the JSON Schema of an open format."`
	OpenAPI  openAPICommand   `cmd:"" name:"openapi" help:"Print the description of the API."`
	Doctor   doctorCommand    `cmd:"" help:"Look whether a folder of data is whole; a Heptad may be running on it."`
	Version  versionCommand   `cmd:"" help:"Print the version of this program, and what it was built from."`
}

func main() {
	ctx, stop := signal.NotifyContext(context.Background(), os.Interrupt, syscall.SIGTERM)
	defer stop()
	work.Spare()
	var c commands
	cli := kong.Parse(&c, kong.Name("heptad"), kong.Description("A service catalog that keeps its promises."), kong.ShortUsageOnError())
	log := slog.New(slog.NewTextHandler(os.Stderr, nil))
	err := cli.Run(&env{ctx, log})
	stop()
	var unclear notUnderstood
	switch {
	case errors.Is(err, errFindings):
		os.Exit(1)
	case errors.As(err, &unclear):
		fmt.Fprintln(os.Stderr, "heptad: "+unclear.Error())
		os.Exit(2)
	}
	cli.FatalIfErrorf(err)
}

// env is what every command works in.
type env struct {
	ctx context.Context
	log *slog.Logger
}
