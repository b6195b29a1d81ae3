package store

import (
	"fmt"
	"os"
	"sync"
	"sync/atomic"
)

// durability has what was committed stand on the disk before anybody hears that it was kept.
// A commit itself does not wait for the disk, so the next one can be made meanwhile; whoever
// committed waits here, and one wait serves all who had committed before it began.
type durability struct {
	ahead     string               // path of the file that commits are written to first
	sync      func(*os.File) error // has the disk take it
	committed atomic.Uint64        // how many commits there were

	failed atomic.Pointer[error] // the disk's. What it then holds nobody can tell, so nothing is kept any more

	mu   sync.Mutex // guards what follows
	file *os.File   // the one at ahead, once it was needed
	safe uint64     // of the commits, so many stand on the disk
}

// wait waits until all that is committed by now stands on the disk.
func (d *durability) wait() error {
	mine := d.committed.Add(1)
	d.mu.Lock()
	defer d.mu.Unlock()
	if d.safe >= mine {
		return nil
	}
	if err := d.broken(); err != nil {
		return err
	}
	written := d.committed.Load()
	var err error
	if d.file == nil { // it is there from the first commit on, and stays while the data file is open
		d.file, err = os.OpenFile(d.ahead, os.O_RDWR, 0)
	}
	if err == nil {
		err = d.sync(d.file)
	}
	if err != nil {
		err = fmt.Errorf("the disk has not kept what was written, and nothing is kept before Heptad starts again: %w", full(err))
		d.failed.Store(&err)
		return err
	}
	d.safe = written
	return nil
}

// broken is the failure after which nothing is kept any more.
func (d *durability) broken() error {
	if failed := d.failed.Load(); failed != nil {
		return *failed
	}
	return nil
}

func (d *durability) close() error {
	d.mu.Lock()
	defer d.mu.Unlock()
	if d.file == nil {
		return nil
	}
	return d.file.Close()
}
