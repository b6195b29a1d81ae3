package store

import (
	"os"
	"time"
)

// How often what is written ahead is taken into the file, and from what size on; and how
// often SQLite looks whether it should know its tables better.
const (
	takenInEvery   = time.Second
	takenInFrom    = 4 << 20
	optimizedEvery = time.Hour
	optimizedFirst = time.Minute // a company that is new has soon other tables than empty ones
)

// tend takes what is written ahead into the file, by a connection of its own, so that no
// writer and no reader waits for it, until the store is over.
func (s *Store) tend() {
	every := time.NewTicker(takenInEvery)
	defer every.Stop()
	var taken time.Time
	looked := time.Now().Add(optimizedFirst - optimizedEvery)
	for {
		select {
		case <-s.over:
			return
		case now := <-every.C:
			if info, err := os.Stat(s.durable.ahead); err == nil && info.Size() >= takenInFrom && info.ModTime().After(taken) {
				taken = info.ModTime()
				_, _ = s.keeper.Exec("PRAGMA wal_checkpoint(PASSIVE)") // else the next time, or by the writer when it has grown too long
			}
			if now.Sub(looked) >= optimizedEvery {
				_, _ = s.writer.Exec("PRAGMA optimize") // it only makes questions faster
				looked = now
			}
		}
	}
}
