package load

import (
	"context"
	"errors"
	"fmt"
	"os"
	"path/filepath"
	"time"
)

// Make makes a folder of a size, unless it is there: of the demo's company as many as the
// size says, with the requests of a season many times over. Told hears how far it is.
func Make(ctx context.Context, dir string, size Size, now time.Time, told func(what string)) error {
	done := filepath.Join(dir, "made")
	if _, err := os.Stat(done); err == nil {
		return nil
	}
	if err := os.RemoveAll(dir); err != nil {
		return err
	}
	told("the demo's season")
	if err := begin(ctx, dir, now); err != nil {
		return err
	}
	if err := enlarge(dir, size, told); err != nil {
		return err
	}
	told("what its runner does at once")
	c, err := start(ctx, "serve", "--data", dir)
	if err != nil {
		return err
	}
	if err := c.settle(ctx); err != nil {
		return err
	}
	if _, err := c.stop(); err != nil {
		return err
	}
	return os.WriteFile(done, nil, 0o600)
}

// enlarge makes a folder with a season as large as a size says.
func enlarge(dir string, size Size, told func(what string)) error {
	db, err := file(dir)
	if err != nil {
		return err
	}
	defer db.Close()
	told("the company")
	parts, err := grow(db, size)
	if err != nil {
		return err
	}
	return fill(db, parts, size, func(n int) {
		if n%50_000 == 0 || n == size.Requests {
			told(fmt.Sprintf("%d requests", n))
		}
	})
}

// apart copies a folder, so that what is written there makes it no larger; done takes the
// copy away.
func apart(dir string) (copied string, done func() error, err error) {
	copied, err = os.MkdirTemp(filepath.Dir(dir), filepath.Base(dir)+"-")
	if err != nil {
		return "", nil, err
	}
	done = func() error { return os.RemoveAll(copied) }
	if err = os.CopyFS(copied, os.DirFS(dir)); err == nil {
		err = onDisk(filepath.Join(copied, "heptad.db")) // else the first acts wait for it
	}
	if err != nil {
		return "", nil, errors.Join(err, done())
	}
	return copied, done, nil
}

// onDisk waits until the disk has all of a file.
func onDisk(path string) error {
	f, err := os.OpenFile(path, os.O_RDWR, 0)
	if err != nil {
		return err
	}
	return errors.Join(f.Sync(), f.Close())
}
