package run

import (
	"fmt"
	"math"
	"slices"
	"strconv"
	"time"

	"dynacor/core/procedure"
	"dynacor/core/tool"
)

// ownShown puts what the next fastener asks for into the present pass, where each has a target of its own.
func (f *folder) ownShown(i int) {
	for k := range f.s.Passes {
		if len(f.s.Passes[k].Own) > 0 {
			f.set(k)
		}
	}
	if i == len(f.s.Passes) {
		return
	}
	ps, h := &f.s.Passes[i], f.hands[0]
	if s := f.inHand(h, i); s != nil && len(ps.Own) > 0 {
		ps.Setting = f.settingAt(h, i, f.expected(i, h))
		ps.TorqueNm = s.TorqueAt(ps.Setting)
	}
}

// finish derives everything that follows from the facts.
func (f *folder) finish() {
	i := f.current()
	f.dry(i, f.now)
	f.fasteners(i)
	f.standing(i)
	f.s.Paused = f.hands[0].stopped != ""
	f.s.Prev, f.s.LastKept = f.hands[0].prev, f.lastKept
	f.ownShown(i)
	if i < len(f.s.Passes) {
		ps := f.s.Passes[i]
		f.s.Setting, f.s.Left = ps.Setting, ps.Open
		f.s.Done = f.doneAt(f.hands[0], i)
		minutes := func(i int) float64 { // tools that pull at once go on together
			stops := math.Ceil(float64(f.s.Passes[i].Open) / float64(f.together(i)))
			return stops * f.p.HouseRules.SecondsPerPull / 60
		}
		f.s.Minutes = minutes(i)
		f.s.TotalMin = f.s.Minutes
		for k := range f.s.Passes[i+1:] {
			f.s.TotalMin += minutes(i+1+k) + f.p.HouseRules.SecondsPerPass/60
		}
		f.s.TotalMin = math.Ceil(f.s.TotalMin)
		f.s.Confirm = f.mustConfirm(f.hands[0], i, "", f.now)
		f.s.Doubted = f.doubtedInHand(i)
	}
	f.cautions(i)
	f.presentSetUp(i)
	f.handStates(i)
	f.temporaries()
	f.replacements()
	f.openItems()
	f.remarks()
	if f.s.Announce != "" && f.s.Next != nil {
		f.s.Announce += " Next, " + f.s.Next.Name + "."
	}
}

// standing derives how the joint stands: its rows and passes, what holds it up, its verdict and where it is.
func (f *folder) standing(i int) {
	f.rows()
	f.countPasses()
	for _, c := range f.gates(i) {
		f.s.Gates = append(f.s.Gates, c.Code)
	}
	if i < len(f.s.Passes) {
		f.s.Pass = i + 1
		f.s.Next = f.next(i, f.hands[0])
	}
	f.blocked()
	f.verdict()
	f.station()
	f.glyph()
}

// cautions tell what can hurt somebody at what comes next: at the stop, and at a step until it has begun.
func (f *folder) cautions(i int) {
	at := f.p.CautionsAt
	if f.s.Station != procedure.Tighten {
		f.s.Cautions = slices.Clone(at[string(f.s.Station)])
		return
	}
	if i == len(f.s.Passes) || f.begun(i) {
		return
	}
	if !f.pulled {
		f.s.Cautions = slices.Clone(at[string(procedure.Tighten)])
	}
	for _, text := range at["step/"+f.s.Passes[i].Step] {
		if !slices.Contains(f.s.Cautions, text) {
			f.s.Cautions = append(f.s.Cautions, text)
		}
	}
}

// remarks say what cannot be believed as firmly as the rest.
func (f *folder) remarks() {
	entries := func(n int) string {
		if n == 1 {
			return "1 entry"
		}
		return fmt.Sprintf("%d entries", n)
	}
	if n := f.s.NotProved; n > 0 {
		f.s.Remarks = append(f.s.Remarks, fmt.Sprintf("Device not proved: %s came without the signature of a device.",
			entries(n)))
	}
	if n := f.s.ClockOff; n > 0 {
		f.s.Remarks = append(f.s.Remarks,
			fmt.Sprintf("Clock not believed: of %s the device told a time that cannot be true; the nearest that "+
				"can is used.", entries(n)))
	}
	if n := f.s.Late; n > 0 {
		f.s.Remarks = append(f.s.Remarks,
			fmt.Sprintf("Heard later: %s came in up to %s after the time that their device told; what was waited "+
				"between them rests on that clock.", entries(n), span(time.Duration(f.s.LateMin*float64(time.Minute)))))
	}
}

func (f *folder) rows() {
	for _, g := range f.p.Rows {
		gs := f.row(g)
		switch {
		case f.silent:
			gs.Text = ""
		case gs.Text == "":
			gs.Text = f.rowText(g, gs)
		}
		f.s.Rows = append(f.s.Rows, gs)
	}
}

// row counts the checks of a row and says what holds it up, if anything does.
func (f *folder) row(g procedure.Row) RowState {
	gs := RowState{Code: g.Code, Title: g.Title, Station: g.Station, Status: CheckOpen}
	for k := range f.p.Checks {
		c := &f.p.Checks[k]
		if c.Row != g.Code {
			continue
		}
		cs := f.checkOf(k)
		gs.Total++
		switch cs.Status {
		case CheckCleared, CheckByLeave, CheckWaived:
			gs.Cleared++
		case CheckStopped:
			gs.Status = CheckStopped
			if len(cs.Findings) > 0 {
				gs.Text = cs.Findings[0].What
			}
		case CheckToSign, CheckToWaive:
			if gs.Status != CheckStopped {
				gs.Status = CheckToSign
				gs.Text = c.Title + " waits for a signature."
			}
		}
		if cs.At != nil && (gs.At == nil || cs.At.After(*gs.At)) {
			gs.At, gs.By = cs.At, cs.By
		}
	}
	if gs.Status == CheckOpen && gs.Cleared == gs.Total {
		gs.Status = CheckCleared
	}
	return gs
}

func (f *folder) rowText(g procedure.Row, gs RowState) string {
	text := ""
	for k := range f.p.Checks {
		c := &f.p.Checks[k]
		if c.Row != g.Code {
			continue
		}
		cs := f.checkOf(k)
		if gs.Status == CheckCleared && cs.Text != "yes" && cs.Text != "accept" {
			if text != "" {
				text += "; "
			}
			text += cs.Text
		} else if gs.Status != CheckCleared && cs.Status == CheckOpen {
			if text != "" {
				text += ", "
			}
			text += c.Title
		}
	}
	switch {
	case gs.Status == CheckCleared && text == "":
		if gs.Total == 1 {
			return "In order."
		}
		return "All " + strconv.Itoa(gs.Total) + " in order."
	case gs.Status != CheckCleared:
		return "Still to do: " + text + "."
	}
	return text + "."
}

func (f *folder) ready() bool {
	for k := range f.p.Checks {
		c := &f.p.Checks[k]
		if c.Station != procedure.Ready {
			continue
		}
		if !f.checkOf(k).Status.Settled() {
			return false
		}
	}
	return true
}

// presentSetUp shows what is in the first hand: what ends a pull with it, how the scale reads, what to keep clear of.
func (f *folder) presentSetUp(i int) {
	s := f.inHand(f.hands[0], i)
	if s == nil || i < len(f.s.Passes) && !f.s.Passes[i].Kind.Sets() {
		return
	}
	d := s.Driver()
	if f.kit(f.hands[0], i).setUp != nil {
		f.s.Wrench = &d
		if len(s.String) > 1 {
			f.s.SetUp = s
		}
	}
	if i == len(f.s.Passes) {
		return
	}
	if r := s.ReactionAt(f.s.Passes[i].TorqueNm); r != nil {
		f.s.Reaction = r
	}
	if d.Kind == tool.Click {
		if c, err := d.Coach(f.s.Setting); err == nil {
			f.s.Coach = &c
		}
	}
}

func (f *folder) countPasses() {
	for i := range f.s.Passes {
		ps := &f.s.Passes[i]
		for _, position := range ps.Order {
			m, pos := f.marks[i][position-1], position-1
			switch m {
			case MarkDone, MarkPart:
				ps.Done++
			case MarkMoved, MarkMovedOK:
				ps.Done++
				ps.Moved++
				if !f.silent {
					ps.NotRight = append(ps.NotRight, "nut "+f.label(pos+1)+" turned")
				}
			case MarkShort:
				ps.Short++
			case MarkOver:
				ps.Over++
			case MarkSkipped:
				ps.Skipped++
			}
			if !m.closed() {
				ps.Open++
			}
		}
		if ps.Complete = f.complete(i); ps.Void != "" {
			ps.Open = 0
		}
	}
	if f.silent {
		return
	}
	for _, d := range f.s.Deviations {
		if w := passWords[d.Code]; w != "" && d.Pass <= len(f.s.Passes) {
			ps := &f.s.Passes[d.Pass-1]
			ps.NotRight = append(ps.NotRight, f.name(d.Fastener)+" "+w)
		}
	}
}

func (f *folder) blocked() {
	add := func(s string) { f.s.Blocked = append(f.s.Blocked, s) }
	if f.s.StoppedBy != "" {
		add(f.s.StoppedBy)
	}
	for _, c := range f.s.Checks {
		if c.Status == CheckStopped && len(c.Findings) > 0 && !f.later(c.Code) {
			add(c.Findings[0].What)
		}
	}
	for _, h := range f.hands {
		if f.s.Pass == 0 {
			break
		}
		for _, pr := range f.problems(h, f.s.Pass-1) {
			add(pr.What + ".")
		}
	}
	for _, d := range f.s.Deviations {
		if d.Status == DeviationOpen && d.Code == CheckEscalate {
			add(d.What + ".")
		}
	}
}

func (f *folder) station() {
	switch {
	case f.s.Verdict.Code == TurnedDown:
		f.s.Station = procedure.HandOver
	case f.s.ReadAt == nil:
		f.s.Station = procedure.Read
	case !f.ready():
		f.s.Station = procedure.Ready
	case f.s.Pass > 0 || len(f.s.Gates) > 0:
		f.s.Station = procedure.Tighten
	case f.s.Verdict.Code != Accepted:
		f.s.Station = procedure.Prove
	default:
		f.s.Station = procedure.HandOver
	}
}

func (f *folder) openItems() {
	add := func(s string) { f.s.OpenItems = append(f.s.OpenItems, s) }
	if f.s.Verdict.Code == TurnedDown {
		return // the record says what was open
	}
	if f.s.Verdict.Code != Accepted {
		add("The joint is not accepted yet: " + f.s.Verdict.Sentence)
	}
	for k := range f.p.Checks {
		c := &f.p.Checks[k]
		if c.Station != procedure.HandOver {
			continue
		}
		if !f.s.Checks[f.checkIndex(c.Code)].Status.Settled() {
			add(c.Title)
		}
	}
	for _, d := range f.s.Deviations {
		if d.Status == DeviationOpen && f.beforeHandOver(d) {
			add(d.What)
		}
	}
	wanted := []struct {
		purpose Purpose
		text    string
	}{{SignTightened, "Signature of the one who tightened"}, {SignProved, "Signature of a different inspector"}}
	if f.p.Apart() { // nobody proves what holds nothing
		wanted = wanted[:1]
		wanted[0].text = "Signature of the one who took it apart"
	}
	for _, w := range wanted {
		if !slices.ContainsFunc(f.s.Signatures, func(s Signature) bool { return s.Purpose == w.purpose }) {
			add(w.text)
		}
	}
}

func (f *folder) glyph() {
	switch {
	case f.s.Verdict.Code == TurnedDown:
		f.s.Glyph = GlyphTurnedDown
	case f.s.Verdict.Code == Accepted && f.p.Apart():
		f.s.Glyph = GlyphReady // to be fitted again
	case f.s.StoppedBy != "" || len(f.s.Blocked) > 0:
		f.s.Glyph = GlyphStopped
	case f.s.Verdict.Code == GoRoundAgain && f.s.Station != procedure.Ready:
		f.s.Glyph = GlyphTurnedDown
	case f.s.Station == procedure.Read:
		f.s.Glyph = GlyphReady
	case f.s.Station == procedure.Ready || f.s.Station == procedure.Tighten:
		f.s.Glyph = GlyphInHand
	case f.s.Station == procedure.Prove:
		f.s.Glyph = GlyphToProve
	default:
		f.s.Glyph = GlyphAccepted
	}
}
