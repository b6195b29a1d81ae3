package request

import (
	"fmt"
	"slices"
	"strings"
	"time"

	"heptad/internal/core/refusal"
)

// Rating is what somebody of the asker's side thinks of how it went.
type Rating struct {
	By      string         `json:"by"` // ID of a person
	Stars   int            `json:"stars"`
	Text    string         `json:"text,omitempty"`
	At      time.Time      `json:"at"`                // of the first word
	Answers []RatingAnswer `json:"answers,omitempty"` // in the order of the questions
	Pooled  bool           `json:"pooled,omitempty"`  // staff see it only among others
}

// RatingAnswer is the answer to a question of the offering's own.
type RatingAnswer struct {
	Question string `json:"question"`
	Stars    int    `json:"stars"`
}

// Of how many a rating is, and from which on it is a low one.
const (
	MostStars = 5
	LowStars  = 2
)

// RatingOpen is how long somebody may change what they said, since they first did.
const RatingOpen = 14 * 24 * time.Hour

// rate takes the rating of one of the asker's side: one each, which they may change.
func (t *transition) rate(c Rate) error {
	s := &t.state
	mine, rated := s.RatingOf(t.facts.Actor)
	switch {
	case !t.side():
		return notYours("Only %s can rate this.", t.sideNames())
	case !s.Rates:
		return conflict(refusal.NotDelivered, "There is nothing yet to rate.")
	case rated && !t.facts.Now.Before(mine.At.Add(RatingOpen)):
		return conflict(refusal.Rated, "You have rated this on %s: after fourteen days it stays.", mine.At.Format("2 January 2006"))
	case c.Stars < 1 || c.Stars > MostStars:
		return &Refusal{Kind: Invalid, Code: refusal.Rating, Sentence: fmt.Sprintf("Choose from 1 to %d.", MostStars), Place: "/stars"}
	}
	var answers []RatingAnswer
	for _, question := range t.facts.Offering.Promise.RatingAsks() {
		if stars, given := c.Answers[question]; given && stars != 0 {
			if stars < 1 || stars > MostStars {
				return &Refusal{Kind: Invalid, Code: refusal.Rating, Sentence: fmt.Sprintf("Choose from 1 to %d.", MostStars), Place: "/answers"}
			}
			answers = append(answers, RatingAnswer{question, stars})
		}
	}
	text := strings.TrimSpace(c.Text)
	if rated && mine.Stars == c.Stars && mine.Text == text && slices.Equal(mine.Answers, answers) {
		return conflict(refusal.Rated, "You have said so already.")
	}
	t.emit(Rated{Stars: c.Stars, Text: text, Answers: answers, Pooled: t.facts.Offering.Promise.Pools()})
	return nil
}

// RatingOf is what a person has said; false when they have not.
func (s *State) RatingOf(person string) (Rating, bool) {
	for _, r := range s.Ratings {
		if r.By == person {
			return r, true
		}
	}
	return Rating{}, false
}

// SeesRating reports whether a rating is open to them: to who gave it, and to staff, unless
// they see it only among others.
func (v Viewer) SeesRating(r Rating) bool {
	return v.Person != "" && v.Person == r.By || !r.Pooled && v.Staff()
}

func (b Rated) apply(s *State, e Event) {
	now := Rating{By: e.Actor, Stars: b.Stars, Text: b.Text, At: e.At, Answers: b.Answers, Pooled: b.Pooled}
	if before, rated := s.RatingOf(e.Actor); rated {
		now.At = before.At
	}
	s.Ratings = append(slices.DeleteFunc(slices.Clone(s.Ratings), func(r Rating) bool { return r.By == e.Actor }), now)
}

func (b Rated) tell(w *telling) bool {
	w.Kind, w.Sentence, w.Remark = "word", fmt.Sprintf("Rated it %d of %d", b.Stars, MostStars), b.Text
	for _, a := range b.Answers {
		w.Sentence += fmt.Sprintf("; %s %d", a.Question, a.Stars)
	}
	return true
}
