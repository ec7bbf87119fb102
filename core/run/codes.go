package run

// VerdictCode says what the work on a joint comes to.
type VerdictCode string

// Verdicts.
const (
	Accepted     VerdictCode = "accepted"
	GoRoundAgain VerdictCode = "go_round_again" // a nut turned in the last round, or a proof failed that asks for one
	Stopped      VerdictCode = "stopped"
	NotFinished  VerdictCode = "not_finished"
	TurnedDown   VerdictCode = "turned_down" // given up as it is, by somebody who may
)

// ReasonStatus says how one reason of a verdict stands.
type ReasonStatus string

// Statuses of a reason, the gravest first.
const (
	ReasonWrong ReasonStatus = "wrong"
	ReasonWaits ReasonStatus = "waits"
	// nothing was checked, by the word of somebody who may say so
	ReasonWaived ReasonStatus = "waived"
	ReasonOK     ReasonStatus = "ok"
)

// Glyph is the sign of a joint in lists: where its work stands.
type Glyph string

// Glyphs of a joint.
const (
	GlyphWaiting    Glyph = "waiting" // something is missing before work can begin
	GlyphReady      Glyph = "ready"
	GlyphInHand     Glyph = "in_hand"
	GlyphToProve    Glyph = "to_prove"
	GlyphAccepted   Glyph = "accepted"
	GlyphStopped    Glyph = "stopped"
	GlyphTurnedDown Glyph = "turned_down"
	GlyphDueAgain   Glyph = "due_again" // sealed, and something was found out since
)

// Standing is how a fastener stands: the mark of its present pass, or one of these.
type Standing string

// Standings that are no marks.
const (
	StandingNotYet   Standing = "not_yet"
	StandingPart     Standing = "part" // between two passes
	StandingAccepted Standing = "accepted"
	StandingTight    Standing = "tight"  // taken apart: not let go yet
	StandingLetGo    Standing = "let_go" // let go in this round
)
