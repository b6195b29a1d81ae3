package request

import (
	"encoding/json"
	"fmt"
	"reflect"
	"slices"
)

// counts says what an event counts as.
type counts int

const (
	deciding counts = iota // it changes with whom a decision lies
	working                // it changes how a task stands
)

// eventKind is what is known of a kind of event. How the state takes it in, and how
// it is told, its body says by its methods.
type eventKind struct {
	name   string // under which it is stored
	body   reflect.Type
	decode func([]byte) (Body, error)
	counts []counts
}

// eventKinds are all kinds of events.
var eventKinds = []eventKind{
	row[DraftBegun]("drafted"),
	row[Submitted]("submitted", deciding),
	row[RungOpened]("rungOpened", deciding),
	row[RungResumed]("rungResumed", deciding),
	row[SeatJoined]("seatJoined", deciding),
	row[RungReminded]("rungReminded"),
	row[Voted]("voted", deciding),
	row[AskedBack]("askedBack", deciding),
	row[Resubmitted]("resubmitted", deciding),
	row[Commented]("commented"),
	row[Followed]("followed"),
	row[Unfollowed]("unfollowed"),
	row[RungEnded]("rungEnded", deciding),
	row[Decided]("decided"),
	row[Planned]("planned", working),
	row[TaskReady]("taskReady", working),
	row[TaskSkipped]("taskSkipped", working),
	row[TaskTaken]("taskTaken", working),
	row[TaskDone]("taskDone", working),
	row[CallFailed]("callFailed"),
	row[TaskStuck]("taskStuck", working),
	row[TaskRetried]("taskRetried", working),
	row[WorkDelivered]("delivered"),
	row[Confirmed]("confirmed"),
	row[Rated]("rated"),
	row[Tied]("tied"),
	row[Untied]("untied"),
	row[TieEnded]("tieEnded"),
	row[EndsWith]("endsWith"),
	row[Echoed]("echoed"),
	row[OpenedToAll]("openedToAll"),
	row[Joined]("joined"),
	row[Urged]("urged", deciding),
	row[UrgeDecided]("urgeDecided", deciding, working),
	row[SideReminded]("sideReminded"),
	row[MarkReached]("markReached"),
	row[SentBack]("sentBack", working),
	row[RequestClosed]("closed", deciding),
	row[Noted]("noted"),
	row[Attached]("attached"),
	row[TaskAdded]("taskAdded", working),
	row[TaskHanded]("taskHanded", working),
	row[TaskWaived]("taskWaived"),
	row[PointTicked]("pointTicked"),
	row[LineDone]("lineDone"),
	row[PartConfirmed]("partConfirmed", working),
	row[AskerAsked]("askerAsked", working),
	row[AskerAnswered]("askerAnswered", working),
	row[TaskReminded]("taskReminded"),
	row[MessageWritten]("messageWritten"),
	row[CallAccepted]("callAccepted", working),
	row[Reported]("reported"),
	row[TaskStopped]("taskStopped", working),
	row[PlaceQueued]("placeQueued", working),
	row[PlaceReserved]("placeReserved", working),
	row[PlaceReturned]("placeReturned"),
	row[PoolGrown]("poolGrown"),
	row[HoldingMade]("holdingMade"),
	row[HoldingChanged]("holdingChanged"),
	row[HoldingEnded]("holdingEnded"),
	row[HoldingRestored]("holdingRestored"),
	row[UndoingBegun]("undoingBegun"),
	row[UndoBegun]("undoBegun", working),
	row[UndoTaken]("undoTaken", working),
	row[TaskUndone]("taskUndone", working),
	row[UndoLeft]("undoLeft", working),
	row[ClockEnded]("clockEnded"),
	row[SeatLeft]("seatLeft", deciding),
	row[QuestionDropped]("questionDropped", deciding),
	row[TaskQuestionDropped]("taskQuestionDropped", working),
	row[Doubted]("doubted"),
	row[Foretold]("foretold"),
	row[DueSet]("dueSet"),
}

var (
	byName = map[string]*eventKind{}
	byBody = map[reflect.Type]*eventKind{}
)

func init() {
	for i := range eventKinds {
		k := &eventKinds[i]
		byName[k.name], byBody[k.body] = k, k
	}
}

func row[B Body](name string, as ...counts) eventKind {
	return eventKind{name: name, body: reflect.TypeFor[B](), counts: as, decode: func(data []byte) (Body, error) {
		var body B
		err := json.Unmarshal(data, &body)
		return body, err
	}}
}

// Bodies gives an empty body of each kind of event.
func Bodies() []Body {
	all := make([]Body, len(eventKinds))
	for i, k := range eventKinds {
		all[i] = reflect.Zero(k.body).Interface().(Body)
	}
	return all
}

func (e Event) of() *eventKind { return byBody[reflect.TypeOf(e.Body)] }

// Kind is the name under which an event is stored.
func (e Event) Kind() string { return e.of().name }

// Deciding reports whether an event changes with whom a decision lies.
func (e Event) Deciding() bool { return slices.Contains(e.of().counts, deciding) }

// Working reports whether an event changes how a task stands.
func (e Event) Working() bool { return slices.Contains(e.of().counts, working) }

// DecodeBody reads the body of an event of a kind from JSON.
func DecodeBody(kind string, data []byte) (Body, error) {
	k, ok := byName[kind]
	if !ok {
		return nil, fmt.Errorf("unknown event %q", kind)
	}
	return k.decode(data)
}
