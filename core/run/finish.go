package run

import (
	"fmt"
	"math"
	"slices"

	"dynacor/core/plan"
	"dynacor/core/procedure"
	"dynacor/core/quantity"
	"dynacor/core/tool"
)

// finish derives everything that follows from the facts.
func (f *folder) finish() {
	i := f.current()
	f.groups()
	f.fasteners(i)
	f.countPasses()
	f.s.Paused = f.hands[0].stopped != ""
	f.s.Prev, f.s.LastKept = f.hands[0].prev, f.lastKept
	if i < len(f.s.Passes) {
		ps := f.s.Passes[i]
		f.s.Pass, f.s.Setting = i+1, ps.Setting
		f.s.Next = f.next(i, f.hands[0])
		f.s.Left = ps.Open
		f.s.Minutes = float64(ps.Open) * f.p.HouseRules.SecondsPerPull / 60
		f.s.TotalMin = f.s.Minutes
		for _, later := range f.s.Passes[i+1:] {
			f.s.TotalMin += (float64(later.Open)*f.p.HouseRules.SecondsPerPull + f.p.HouseRules.SecondsPerPass) / 60
		}
		f.s.Confirm = f.mustConfirm(f.hands[0], i+1, "", f.now)
	}
	f.presentSetUp(i)
	f.handStates(i)
	f.blocked()
	f.verdict()
	f.stop()
	f.openItems()
	f.glyph()
	if f.s.Announce != "" && f.s.Next != nil {
		f.s.Announce += fmt.Sprintf(" Next, bolt %d.", f.s.Next.Number)
	}
}

func (f *folder) groups() {
	for _, g := range f.p.Groups {
		gs := GroupState{Code: g.Code, Title: g.Title, Stop: g.Stop, Status: CheckOpen}
		for _, c := range f.p.Checks {
			if c.Group != g.Code {
				continue
			}
			cs := f.s.Checks[f.checkIndex(c.Code)]
			gs.Total++
			switch cs.Status {
			case CheckCleared, CheckByLeave:
				gs.Cleared++
			case CheckStopped:
				gs.Status = CheckStopped
				if len(cs.Findings) > 0 {
					gs.Text = cs.Findings[0].What
				}
			case CheckToSign:
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
		if gs.Text == "" {
			gs.Text = f.groupText(g, gs)
		}
		f.s.Groups = append(f.s.Groups, gs)
	}
}

func (f *folder) groupText(g procedure.Group, gs GroupState) string {
	text := ""
	for _, c := range f.p.Checks {
		if c.Group != g.Code {
			continue
		}
		cs := f.s.Checks[f.checkIndex(c.Code)]
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
		return "All " + fmt.Sprint(gs.Total) + " in order."
	case gs.Status != CheckCleared:
		return "Still to do: " + text + "."
	}
	return text + "."
}

func (f *folder) ready() bool {
	for _, c := range f.p.Checks {
		if c.Stop != procedure.Ready {
			continue
		}
		if st := f.s.Checks[f.checkIndex(c.Code)].Status; st != CheckCleared && st != CheckByLeave {
			return false
		}
	}
	return true
}

// next is the fastener whose turn it is for a hand, nil when there is none.
func (f *folder) next(i int, h *hand) *Next {
	pos := f.expected(i, h)
	if pos == 0 {
		return nil
	}
	n := len(f.torque)
	nx := &Next{Fastener: pos, Number: f.number(pos), Then: []int{}}
	prev := h.prev
	d := 0
	if prev != 0 {
		d = min((pos-prev+n)%n, (prev-pos+n)%n)
	}
	switch m := f.marks[i][pos-1]; {
	case m == MarkSkipped:
		nx.Why = "left for later: now its turn"
	case m == MarkShort:
		nx.Why = "short: pull it again"
	case m == MarkOver:
		nx.Why = "over: loosen it first, then bring it up again"
	case prev == 0:
		nx.Why = "first of this pass"
	case n%2 == 0 && d == n/2:
		nx.Why = fmt.Sprintf("straight across from %d", f.number(prev))
	case n%4 == 0 && d == n/4:
		nx.Why = fmt.Sprintf("a quarter round from %d", f.number(prev))
	case d == 1:
		nx.Why = fmt.Sprintf("beside %d", f.number(prev))
	default:
		nx.Why = fmt.Sprintf("%d along from %d", d, f.number(prev))
	}
	order := f.order(i, h)
	at := slices.Index(order, pos)
	for k := 1; k < len(order) && len(nx.Then) < 3; k++ {
		q := order[(at+k)%len(order)]
		if f.marks[i][q-1] == MarkNone {
			nx.Then = append(nx.Then, f.number(q))
		}
	}
	return nx
}

// presentSetUp shows what is in the first hand: what ends a pull with it, how the scale reads, what to keep clear of.
func (f *folder) presentSetUp(i int) {
	s := f.inHand(f.hands[0])
	if s == nil {
		return
	}
	d := s.Driver()
	f.s.Done = doneBy(*s)
	if f.hands[0].setUp != nil {
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
		if c, err := d.Coach(f.s.Passes[i].Setting); err == nil {
			f.s.Coach = &c
		}
	}
}

func (f *folder) fasteners(cur int) {
	final := f.p.FinalNm
	if final == 0 {
		final = f.p.TargetNm
	}
	for pos := range f.torque {
		fs := FastenerState{Position: pos + 1, Number: f.number(pos + 1), TorqueNm: f.torque[pos], Measured: f.measured[pos], Degrees: f.degrees[pos], Suspect: f.suspect[pos], Marks: []Mark{}, State: "not_yet"}
		if final > 0 {
			fs.Fraction = f.torque[pos] / final
		}
		for i := range f.marks {
			fs.Marks = append(fs.Marks, f.marks[i][pos])
		}
		at := min(cur, len(f.marks)-1)
		if at >= 0 {
			m := f.marks[at][pos]
			switch {
			case m == MarkShort || m == MarkOver || m == MarkSkipped || m == MarkMoved || m == MarkMovedOK || m == MarkDone:
				fs.State = string(m)
			case f.torque[pos] > 0:
				fs.State = "part"
			}
			num := fmt.Sprint(fs.Number)
			switch m {
			case MarkShort:
				fs.Word = num + " short"
			case MarkOver:
				fs.Word = num + " over"
			case MarkSkipped:
				fs.Word = num + " for later"
			case MarkMoved, MarkMovedOK:
				fs.Word = num + " turned"
				if fs.Degrees > 0 {
					fs.Word = num + " turned " + quantity.Text(fs.Degrees) + "°"
				}
			}
		}
		if fs.Word != "" {
			f.s.Exceptions = append(f.s.Exceptions, fs.Word)
		}
		f.s.Fasteners = append(f.s.Fasteners, fs)
	}
}

func (f *folder) countPasses() {
	for i := range f.s.Passes {
		ps := &f.s.Passes[i]
		for pos, m := range f.marks[i] {
			switch m {
			case MarkDone:
				ps.Done++
			case MarkMoved, MarkMovedOK:
				ps.Done++
				ps.Moved++
				ps.NotRight = append(ps.NotRight, fmt.Sprintf("nut %d turned", f.number(pos+1)))
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
		ps.Complete = f.complete(i)
	}
	words := map[string]string{"repeated": "pulled twice", "over": "pulled past the click", "clicked_still": "clicked without turning", "wrong_setting": "pulled at another setting"}
	for _, d := range f.s.Deviations {
		if w := words[d.Code]; w != "" && d.Pass <= len(f.s.Passes) {
			ps := &f.s.Passes[d.Pass-1]
			ps.NotRight = append(ps.NotRight, fmt.Sprintf("bolt %d %s", f.number(d.Fastener), w))
		}
	}
}

func (f *folder) blocked() {
	add := func(s string) { f.s.Blocked = append(f.s.Blocked, s) }
	if f.s.HeldBy != "" {
		add(f.s.HeldBy)
	}
	for _, c := range f.s.Checks {
		if c.Status == CheckStopped && len(c.Findings) > 0 {
			add(c.Findings[0].What)
		}
	}
	for _, h := range f.hands {
		for _, pr := range h.problems {
			if f.s.Pass > 0 {
				add(pr.What + ".")
			}
		}
	}
	for _, d := range f.s.Deviations {
		if d.Status == "open" && d.Code == "check_escalate" {
			add(d.What + ".")
		}
	}
}

// verdict is worked out from the facts alone; each reason is shown.
func (f *folder) verdict() {
	v := Verdict{Reasons: []Reason{}}
	wrong, waits, moved, open := 0, 0, false, 0
	add := func(status, text, value string) {
		switch status {
		case "wrong":
			wrong++
		case "waits":
			waits++
		}
		v.Reasons = append(v.Reasons, Reason{status, text, value})
	}
	n := len(f.torque)
	rounds, turned := 0, 0
	for _, ps := range f.s.Passes {
		if ps.Kind == string(plan.CheckPass) {
			rounds++
			if ps.Complete {
				turned = ps.Moved - f.movedOK(ps.Number-1)
			}
			continue
		}
		if ps.Complete && ps.Open == 0 {
			add("ok", fmt.Sprintf("Pass %d, %s: all %d bolts at %s %s.", ps.Number, ps.Name, n, quantity.Text(ps.Setting), quantity.Unit(ps.Unit).Symbol()), fmt.Sprintf("%d of %d", ps.Done, n))
		} else if ps.Complete {
			add("ok", fmt.Sprintf("Pass %d, %s: begun without %d bolts, by leave of an engineer.", ps.Number, ps.Name, ps.Open), fmt.Sprintf("%d of %d", ps.Done, n))
		} else {
			add("waits", fmt.Sprintf("Pass %d, %s: %d bolts still open.", ps.Number, ps.Name, ps.Open), fmt.Sprintf("%d of %d", ps.Done, n))
		}
	}
	last := f.s.Passes
	if len(last) > 0 {
		ps := last[len(last)-1]
		switch {
		case ps.Complete && turned == 0:
			text := "Check round: no nut turned."
			if rounds > 1 {
				text = fmt.Sprintf("Check round %d: no nut turned.", rounds)
			}
			add("ok", text, fmt.Sprintf("%d of %d stayed", n-ps.Moved, n))
		case rounds > 1:
			moved = true
			prev := last[len(last)-2]
			add("wrong", fmt.Sprintf("Check round %d: %d nuts turned. One full round without movement clears it.", rounds-1, prev.Moved), fmt.Sprintf("%d of %d stayed", n-prev.Moved, n))
		default:
			add("waits", "Check round at full torque: until no nut turns.", "")
		}
	}
	for _, c := range f.p.Checks {
		if c.Stop != procedure.Prove {
			continue
		}
		cs := f.s.Checks[f.checkIndex(c.Code)]
		value := ""
		if cs.Result != nil {
			value = mm(*cs.Result) + " " + c.Unit
		}
		switch cs.Status {
		case CheckCleared, CheckByLeave:
			add("ok", c.Title+": "+cs.Text+".", value)
		case CheckStopped:
			text := c.Title + ": " + cs.Text + "."
			if len(cs.Findings) > 0 {
				text = cs.Findings[0].What
			}
			add("wrong", text, value)
			if c.Reopens != nil {
				moved = true
			}
		default:
			add("waits", c.Title+" is still to be answered.", "")
		}
	}
	for _, d := range f.s.Deviations {
		switch d.Status {
		case "open", "loosened":
			open++
			add("wrong", d.What+": still open.", "")
		case "accepted", "reworked":
			add("ok", d.What+": "+d.Status+" ("+d.Closed+").", "")
		}
	}
	order := map[string]int{"wrong": 0, "waits": 1, "ok": 2}
	slices.SortStableFunc(v.Reasons, func(a, b Reason) int { return order[a.Status] - order[b.Status] })
	switch {
	case f.s.HeldBy != "":
		v.Code, v.Word, v.Sentence = "stopped", "Stopped", f.s.HeldBy
	case open > 0:
		v.Code, v.Word = "stopped", "Stopped"
		v.Sentence = fmt.Sprintf("%d departures are open. Put them right, or have them accepted by an engineer or inspector.", open)
		if open == 1 {
			v.Sentence = "One departure is open. Put it right, or have it accepted by an engineer or inspector."
		}
	case moved:
		v.Code, v.Word, v.Sentence = "go_round_again", "Go round again", "One full round at full torque without movement, and an even gap, clear it."
	case wrong > 0:
		v.Code, v.Word, v.Sentence = "stopped", "Stopped", v.Reasons[0].Text
	case waits > 0:
		v.Code, v.Word, v.Sentence = "not_finished", "Not finished", v.Reasons[0].Text
	default:
		v.Code, v.Word = "accepted", "Accepted"
		v.Sentence = "Every bolt was recorded in every pass, no nut turned in the last round, and what was measured lies inside its limits."
		for i := range f.s.Fasteners {
			if f.s.Fasteners[i].State == "done" {
				f.s.Fasteners[i].State = "accepted"
			}
		}
	}
	f.s.Verdict = v
}

func (f *folder) movedOK(i int) int {
	n := 0
	for _, m := range f.marks[i] {
		if m == MarkMovedOK {
			n++
		}
	}
	return n
}

func (f *folder) stop() {
	switch {
	case f.s.ReadAt == nil:
		f.s.Stop = procedure.Read
	case !f.ready():
		f.s.Stop = procedure.Ready
	case f.s.Pass > 0:
		f.s.Stop = procedure.Tighten
	case f.s.Verdict.Code != "accepted":
		f.s.Stop = procedure.Prove
	default:
		f.s.Stop = procedure.HandOver
	}
}

func (f *folder) openItems() {
	add := func(s string) { f.s.OpenItems = append(f.s.OpenItems, s) }
	if f.s.Verdict.Code != "accepted" {
		add("The joint is not accepted yet: " + f.s.Verdict.Sentence)
	}
	for _, c := range f.p.Checks {
		if c.Stop != procedure.HandOver {
			continue
		}
		if st := f.s.Checks[f.checkIndex(c.Code)].Status; st != CheckCleared && st != CheckByLeave {
			add(c.Title)
		}
	}
	for _, w := range []struct{ purpose, text string }{{SignTightened, "Signature of the one who tightened"}, {SignProved, "Signature of a different inspector"}} {
		if !slices.ContainsFunc(f.s.Signatures, func(s Signature) bool { return s.Purpose == w.purpose }) {
			add(w.text)
		}
	}
}

func (f *folder) glyph() {
	switch {
	case f.s.HeldBy != "" || len(f.s.Blocked) > 0:
		f.s.Glyph = "stopped"
	case f.s.Verdict.Code == "go_round_again" && f.s.Stop != procedure.Ready:
		f.s.Glyph = "turned_down"
	case f.s.Stop == procedure.Read:
		f.s.Glyph = "ready"
	case f.s.Stop == procedure.Ready || f.s.Stop == procedure.Tighten:
		f.s.Glyph = "in_hand"
	case f.s.Stop == procedure.Prove:
		f.s.Glyph = "to_prove"
	default:
		f.s.Glyph = "accepted"
	}
	f.s.TotalMin = math.Ceil(f.s.TotalMin)
}
