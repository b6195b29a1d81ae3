package store

import (
	"context"
	"strconv"
)

// LimitPages lets the disk be full beyond so many pages of the file; 0 for as
// many as it has now.
func (s *Store) LimitPages(ctx context.Context, pages int) error {
	if pages == 0 {
		if err := s.writer.GetContext(ctx, &pages, "PRAGMA page_count"); err != nil {
			return err
		}
	}
	var limit int
	return s.writer.GetContext(ctx, &limit, "PRAGMA max_page_count = "+strconv.Itoa(pages))
}
