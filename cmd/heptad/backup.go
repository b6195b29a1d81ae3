package main

import (
	"encoding/json"
	"errors"
	"fmt"
	"os"
	"time"

	"heptad/internal/core/audit"
	"heptad/internal/store"
)

type backupCommand struct {
	Data     string `required:"" type:"existingdir" env:"HEPTAD_DATA" help:"Folder of the data."`
	Keys     string `type:"existingdir" env:"HEPTAD_KEYS" help:"Folder of the keys; that of the data when left out."`
	WithKeys bool   `help:"Keep the keys in it, too. Who has such a file can read all secrets."`
	File     string `arg:"" type:"path" help:"File of the backup; there must be none of its name."`
}

// Run keeps the whole of a folder in one file.
func (c *backupCommand) Run(e *env) error {
	keys := ""
	if c.WithKeys {
		if keys = c.Keys; keys == "" {
			keys = c.Data
		}
	}
	begun := time.Now()
	if err := store.Backup(e.ctx, c.Data, c.File, keys); err != nil {
		return err
	}
	info, err := os.Stat(c.File)
	if err != nil {
		return err
	}
	note := " The keys are not in it: keep them elsewhere."
	if c.WithKeys {
		note = " The keys are in it."
	}
	fmt.Printf("%s holds all of %s: %d bytes, in %s.%s\n", c.File, c.Data, info.Size(), time.Since(begun).Round(time.Millisecond), note)
	return nil
}

type restoreCommand struct {
	File string `arg:"" type:"existingfile" help:"File of the backup."`
	Data string `required:"" type:"path" env:"HEPTAD_DATA" help:"Folder of the data; made, or empty."`
	Keys string `type:"existingdir" env:"HEPTAD_KEYS" help:"Folder of the keys, when the backup does not hold them."`
}

// Run makes a folder of data from a backup.
func (c *restoreCommand) Run(e *env) error {
	r, err := store.Restore(e.ctx, c.File, c.Data, c.Keys, time.Now())
	if err != nil {
		return err
	}
	fmt.Printf("%s is as it was on %s. What came after is lost; references go on higher. Nothing goes out before an administrator says yes, on Manage.\n", c.Data, r.Made.Format("Monday 2 January 2006, 15:04 MST"))
	if !r.Keys && c.Keys == "" {
		fmt.Printf("The backup holds no keys: put links.secret and connectors.secret into %s, or start with --keys, before you serve it.\n", c.Data)
	}
	return nil
}

type copyCommand struct {
	Data  string `required:"" type:"existingdir" env:"HEPTAD_DATA" help:"Folder of the data; a Heptad may be running on it."`
	Trial string `required:"" type:"path" placeholder:"DIR" help:"Folder of the copy for trying; made, or empty."`
}

// Run makes a copy for trying.
func (c *copyCommand) Run(e *env) error {
	if err := store.CopyForTrial(e.ctx, c.Data, c.Trial, time.Now()); err != nil {
		return err
	}
	fmt.Printf("%s is a copy for trying. It holds no messages, no private answers, no addresses or secrets of other systems, and no way in but people's own. Serve it with: heptad serve --trial --data %[1]s\n", c.Trial)
	return nil
}

type auditCommands struct {
	Verify auditVerifyCommand `cmd:"" help:"Follow the chains of the audit and of all history, and name the first broken row."`
	Export auditExportCommand `cmd:"" help:"Print the audit as JSON lines, the oldest first."`
}

type auditVerifyCommand struct {
	Data string `required:"" type:"existingdir" env:"HEPTAD_DATA" help:"Folder of the data."`
}

// Run verifies the chains; a Heptad may be running.
func (c *auditVerifyCommand) Run(e *env) error {
	in, err := store.Inspect(e.ctx, c.Data)
	if err != nil {
		return err
	}
	rows, wrong, err := in.VerifyChains(e.ctx)
	if err := errors.Join(err, in.Close()); err != nil {
		return err
	}
	for _, w := range wrong {
		fmt.Println(w)
	}
	if len(wrong) > 0 {
		return errFindings
	}
	fmt.Printf("All %d rows are as they were written.\n", rows)
	return nil
}

type auditExportCommand struct {
	Data string `required:"" type:"existingdir" env:"HEPTAD_DATA" help:"Folder of the data."`
}

// exported is a row of the audit as a line.
type exported struct {
	ID      int64          `json:"id"`
	At      time.Time      `json:"at"`
	Actor   string         `json:"actor,omitempty"`
	Session string         `json:"session,omitempty"`
	Act     audit.Act      `json:"act"`
	Thing   string         `json:"thing,omitempty"`
	Name    string         `json:"name,omitempty"`
	Changes []audit.Change `json:"changes,omitempty"`
}

// Run prints all rows; a Heptad may be running.
func (c *auditExportCommand) Run(e *env) error {
	in, err := store.Inspect(e.ctx, c.Data)
	if err != nil {
		return err
	}
	out := json.NewEncoder(os.Stdout)
	err = in.Acts(e.ctx, func(a audit.Row) error {
		return out.Encode(exported{a.ID, a.At, a.Actor, a.Session, a.Act, a.Thing, a.Body.Name, a.Body.Changes})
	})
	return errors.Join(err, in.Close())
}
