package request

import "slices"

// Offer is the name under which a command is offered to people.
type Offer string

// The offers.
const (
	OfferSubmit       Offer = "submit"
	OfferDiscard      Offer = "discard"
	OfferWithdraw     Offer = "withdraw"
	OfferResubmit     Offer = "resubmit"
	OfferUnask        Offer = "unask"
	OfferTakeBack     Offer = "takeBack"
	OfferDecide       Offer = "decide"
	OfferAskBack      Offer = "askBack"
	OfferPassOn       Offer = "passOn"
	OfferAnswer       Offer = "answer"
	OfferConfirm      Offer = "confirm"
	OfferUrge         Offer = "urge"
	OfferRate         Offer = "rate"
	OfferSendBack     Offer = "sendBack"
	OfferFollowMyself Offer = "followMyself"
	OfferFollow       Offer = "follow"
	OfferAttach       Offer = "attach"
	OfferCancel       Offer = "cancel"
	OfferClose        Offer = "close"
	OfferTie          Offer = "tie"
	OfferOpenToAll    Offer = "openToAll"
	OfferRunNow       Offer = "runNow"
	OfferHear         Offer = "hear"
	OfferAddTask      Offer = "addTask"
	OfferTake         Offer = "take"
	OfferComplete     Offer = "complete"
	OfferRetry        Offer = "retry"
	OfferSkip         Offer = "skip"
	OfferNote         Offer = "note"
	OfferSay          Offer = "say"
	OfferWaive        Offer = "waive"
	OfferConfirmPart  Offer = "confirmPart"
	OfferHandOver     Offer = "handOver"
	OfferGetStuck     Offer = "getStuck"
	OfferCheck        Offer = "check"
	OfferAskAsker     Offer = "askAsker"
	OfferCorrect      Offer = "correct"
	OfferCount        Offer = "count"
	OfferDoubt        Offer = "doubt"
)

// commands are all that a request takes, each with the offer that stands for it; one
// that only the program gives, or that needs no offer, has none.
var commands = []struct {
	offer   Offer
	command Command
}{
	{OfferSubmit, Submit{}},
	{OfferDiscard, Discard{}},
	{OfferWithdraw, Withdraw{}},
	{OfferResubmit, Resubmit{}},
	{OfferUnask, Unask{}},
	{OfferTakeBack, TakeBack{}},
	{OfferDecide, Decide{}},
	{OfferAskBack, AskBack{}},
	{OfferPassOn, PassOn{}},
	{OfferAnswer, Answer{}},
	{OfferConfirm, Confirm{}},
	{OfferSendBack, SendBack{}},
	{OfferUrge, Urge{}},
	{OfferRate, Rate{}},
	{OfferFollowMyself, Follow{}},
	{OfferFollow, Follow{}},
	{OfferAttach, Attach{}},
	{OfferCancel, Cancel{}},
	{OfferClose, Close{}},
	{OfferTie, Tie{}},
	{OfferTie, Untie{}},
	{OfferOpenToAll, OpenToAll{}},
	{OfferRunNow, RunNow{}},
	{OfferHear, Hear{}},
	{OfferAddTask, AddTask{}},
	{OfferTake, Take{}},
	{OfferComplete, Complete{}},
	{OfferRetry, Retry{}},
	{OfferSkip, Skip{}},
	{OfferNote, Note{}},
	{OfferSay, Comment{}},
	{OfferWaive, Waive{}},
	{OfferConfirmPart, ConfirmPart{}},
	{OfferHandOver, HandOver{}},
	{OfferGetStuck, GetStuck{}},
	{OfferCheck, Check{}},
	{OfferAskAsker, AskAsker{}},
	{OfferCorrect, Retry{}},
	{OfferCount, Count{}},
	{OfferDoubt, Doubt{}},
	{OfferUnask, UnaskAsker{}},
	{"", Advance{}},
	{"", Begin{}},
	{"", Echo{}},
	{"", Fail{}},
	{"", Foresee{}},
	{"", Free{}},
	{"", Heed{}},
	{"", Join{}},
	{"", Lapse{}},
	{"", Relieve{}},
	{"", Report{}},
	{"", Retie{}},
	{"", Settle{}},
	{"", Succeed{}},
	{"", Tick{}},
	{"", Unfollow{}},
}

// All lists the offers, each once.
func (Offer) All() []Offer {
	var all []Offer
	for _, c := range commands {
		if c.offer != "" && !slices.Contains(all, c.offer) {
			all = append(all, c.offer)
		}
	}
	return all
}

// Commands gives an empty one of each command.
func Commands() []Command {
	all := make([]Command, len(commands))
	for i, c := range commands {
		all[i] = c.command
	}
	return all
}
