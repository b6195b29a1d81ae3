package store

import (
	"context"
	"errors"
	"fmt"
	"io/fs"
	"os"
	"path/filepath"
	"strings"
	"time"

	"heptad/internal/core/audit"
	"heptad/internal/core/request"
)

// trialMark tells the folder of an installation for trying from any other.
const trialMark = "heptad-trial"

// IsTrial reports whether a folder is a copy that was made for trying.
func IsTrial(dir string) bool {
	_, err := os.Stat(filepath.Join(dir, trialMark))
	return err == nil
}

// notCopied is what a copy for trying does not hold: what would go out, what others were
// told, who has a way in, what is private, and what nobody has sent.
var notCopied = []string{
	"DELETE FROM messages",
	"DELETE FROM message_words",
	"DELETE FROM message_names",
	"DELETE FROM entry_links",
	"DELETE FROM uploads WHERE request IN (SELECT request FROM drafts) OR EXISTS (SELECT 1 FROM sealed s WHERE s.request = uploads.request AND s.key = uploads.question)",
	"DELETE FROM sealed",
	"UPDATE drafts SET answers = '{}'",
	"UPDATE connectors SET url = '', secret = NULL, hosts = ''",
	"UPDATE credentials SET factor = NULL, recovery = '[]'", // they are sealed with a key that is not copied
	"UPDATE boards SET wall = NULL, mail_at = 0",
	"DELETE FROM restored",
	"DELETE FROM key_marks",
	"DELETE FROM searches",
	"DELETE FROM studies",
}

// CopyForTrial makes a folder for trying of a folder of data; a Heptad may be running on that.
// The folder must be empty or not there; it is there when all of it is.
func CopyForTrial(ctx context.Context, from, dir string, now time.Time) (err error) {
	if err := isEmpty(dir, "Copy"); err != nil {
		return err
	}
	in, err := Inspect(ctx, from)
	if err != nil {
		return err
	}
	defer func() { err = errors.Join(err, in.Close()) }()
	part := strings.TrimRight(dir, "/") + ".part"
	if err := errors.Join(os.RemoveAll(part), os.MkdirAll(filepath.Join(part, uploadsFolder), 0o700)); err != nil {
		return err
	}
	defer func() {
		if err != nil {
			err = errors.Join(full(err), os.RemoveAll(part))
		}
	}()
	if err := os.WriteFile(filepath.Join(part, trialMark), nil, 0o600); err != nil { // first, so that nothing takes it for another
		return err
	}
	if err := in.vacuum(ctx, filepath.Join(part, backupData)); err != nil {
		return err
	}
	if err := settleTrial(ctx, from, part, now); err != nil {
		return err
	}
	for _, name := range KeyNames { // its own: what was sealed or signed with those of the other is void
		if _, err := Secret(part, name, true); err != nil {
			return err
		}
	}
	return putInPlace(part, dir)
}

// settleTrial takes out of copied data what is not copied, for good, and copies the contents
// of the files that are left.
func settleTrial(ctx context.Context, from, dir string, now time.Time) (err error) {
	s, err := Open(ctx, dir)
	if err != nil {
		return err
	}
	defer func() { err = errors.Join(err, s.Close()) }()
	err = s.Write(ctx, func(tx *Tx) error {
		for _, statement := range notCopied {
			if err := tx.exec(statement); err != nil {
				return fmt.Errorf("%s: %w", statement, err)
			}
		}
		if err := tx.exec("UPDATE organisation SET document = json_set(document, '$.prefix', ? || json_extract(document, '$.prefix')) WHERE json_extract(document, '$.prefix') NOT LIKE ?", request.TrialMark, request.TrialMark+"%"); err != nil {
			return err
		}
		return tx.AddAct(audit.Row{At: now, Act: audit.CopiedForTrial})
	})
	if err != nil {
		return err
	}
	if _, err := s.writer.ExecContext(ctx, undoInFile+"; VACUUM"); err != nil { // nothing of it is left in the file
		return err
	}
	var ids []string
	if err := s.reader.SelectContext(ctx, &ids, "SELECT id FROM uploads"); err != nil {
		return err
	}
	for _, id := range ids {
		name := filepath.Join(uploadsFolder, filepath.Base(id))
		if err := copyFile(filepath.Join(from, name), filepath.Join(dir, name)); err != nil && !errors.Is(err, fs.ErrNotExist) { // of one that is gone, the doctor tells
			return err
		}
	}
	return nil
}

func copyFile(from, to string) (err error) {
	in, err := os.Open(from)
	if err != nil {
		return err
	}
	defer func() { err = errors.Join(err, in.Close()) }()
	return writeOut(to, in)
}

// TrialMail is a mail that would have gone out.
type TrialMail struct {
	ID      int64
	At      int64 // ms UTC
	Name    string
	Address string
	Subject string
	Body    string
}

// mostTrialMails is how many are kept: the last.
const mostTrialMails = 2_000

// AddTrialMail keeps a mail that would have gone out.
func (t companyTx) AddTrialMail(m TrialMail) error {
	return errors.Join(t.exec("INSERT INTO trial_mails (at, name, address, subject, body) VALUES (?,?,?,?,?)", m.At, m.Name, m.Address, m.Subject, m.Body),
		t.exec("DELETE FROM trial_mails WHERE id <= (SELECT max(id) FROM trial_mails) - ?", mostTrialMails))
}

// TrialMails lists the mails that would have gone out before one, the last first; 0 for all.
func (r ofSystems) TrialMails(ctx context.Context, before int64, limit int) ([]TrialMail, error) {
	var all []TrialMail
	err := r.all(ctx, &all, "SELECT id, at, name, address, subject, body FROM trial_mails WHERE ?1 = 0 OR id < ?1 ORDER BY id DESC LIMIT ?2", before, limit)
	return all, err
}
