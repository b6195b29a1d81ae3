package main

import (
	"context"
	"fmt"
	"time"

	"heptad/internal/doctor"
)

// doctorCommand looks whether a folder is whole. It exits 1 when it is not.
type doctorCommand struct {
	settings `embed:""`

	JSON bool `name:"json" help:"Print the results as JSON."`
}

func (c *doctorCommand) Run(e *env) error {
	if err := c.check(); err != nil {
		return err
	}
	all, ill := []doctor.Result{}, false
	each := func(r doctor.Result) {
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
	}
	if err := doctor.Look(e.ctx, c.Data, time.Now(), each); err != nil {
		return err
	}
	c.around(e.ctx, each)
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

const (
	soonOver  = 14 * 24 * time.Hour // a certificate that ends sooner is to be replaced
	aroundFor = 15 * time.Second    // how long a server has to answer
)

// around looks at what the settings name: the certificate, the mail server, the sign-in
// service and the folder of the backups. What they do not name is not looked at.
func (c *doctorCommand) around(ctx context.Context, each func(doctor.Result)) {
	look := func(check, good string, is bool, do func(ctx context.Context) error) {
		if !is {
			return
		}
		ctx, stop := context.WithTimeout(ctx, aroundFor)
		defer stop()
		if err := do(ctx); err != nil {
			each(doctor.Result{Check: check, Says: err.Error()})
		} else {
			each(doctor.Result{Check: check, Good: true, Says: good})
		}
	}
	look("certificate", "The certificate is good for two weeks and more.", c.Cert != "", func(context.Context) error {
		found := &certificate{cert: c.Cert, key: c.Key}
		if err := found.load(); err != nil {
			return err
		}
		return found.fits(c.Public, time.Now().Add(soonOver))
	})
	smtp, mails := c.Mail.smtp()
	look("mail", "The mail server lets Heptad in.", mails, func(ctx context.Context) error {
		if err := smtp.Try(ctx); err != nil {
			return fmt.Errorf("the mail server does not let Heptad in: %w", err)
		}
		return nil
	})
	service := c.OIDC.service(c.Public)
	look("sign-in", "The sign-in service answers.", service != nil, func(ctx context.Context) error { return service.Provider.Ready(ctx) })
	look("backups", "A backup of the last day is there.", c.Backup.Dir != "", func(context.Context) error {
		set, err := c.backups()
		if err != nil {
			return err
		}
		return set.Fresh(time.Now())
	})
}
