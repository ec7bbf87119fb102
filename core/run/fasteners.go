package run

import (
	"fmt"
	"slices"

	"dynacor/core/layout"
	"dynacor/core/plan"
	"dynacor/core/quantity"
)

// next is the fastener whose turn it is for a hand, nil when there is none.
func (f *folder) next(i int, h *hand) *Next {
	pos := f.expected(i, h)
	if pos == 0 {
		return nil
	}
	if f.silent {
		return &Next{Fastener: pos}
	}
	nx := &Next{Fastener: pos, Number: f.number(pos), Name: f.name(pos), Why: f.whyNext(i, h, pos), Then: []string{}}
	order := f.order(i, h)
	at := slices.Index(order, pos)
	for k := 1; k < len(order) && len(nx.Then) < 3; k++ {
		q := order[(at+k)%len(order)]
		if f.marks[i][q-1] == MarkNone {
			nx.Then = append(nx.Then, f.label(q))
		}
	}
	return nx
}

// whyNext says why a fastener is at hand now: what is the matter with it, else where it lies from the one before.
func (f *folder) whyNext(i int, h *hand, pos int) string {
	switch f.marks[i][pos-1] {
	case MarkSkipped:
		return "left for later: now its turn"
	case MarkShort:
		if why := againWords[f.s.Passes[i].Kind]; why != "" {
			return why
		}
		return "short: pull it again"
	case MarkOver:
		return "over: loosen it first, then bring it up again"
	}
	prev := h.prev
	if prev == 0 || prev == pos {
		return "first of this pass"
	}
	g := f.p.GroupAt(pos)
	n := g.Layout.Count
	d := min((pos-prev+n)%n, (prev-pos+n)%n)
	switch from := f.label(prev); {
	case g.Layout.Shape() != layout.Circle:
		return "after " + from
	case n%2 == 0 && d == n/2:
		return "straight across from " + from
	case n%4 == 0 && d == n/4:
		return "a quarter round from " + from
	case d == 1:
		return "beside " + from
	default:
		return fmt.Sprintf("%d along from %s", d, from)
	}
}

func (f *folder) fasteners(cur int) {
	for pos := range f.torque {
		g := f.p.GroupAt(pos + 1)
		fs := FastenerState{Position: pos + 1, Number: f.number(pos + 1), Name: f.name(pos + 1), Group: g.Code,
			TorqueNm: f.torque[pos], Measured: f.measured[pos], Degrees: f.degrees[pos], Suspect: f.suspect[pos],
			Marks: []Mark{}, State: StandingNotYet}
		done, all, at := f.visits(&fs, pos, cur)
		fs.Fraction = f.fraction(g, pos, done, all)
		if at >= 0 && f.s.Passes[at].Kind == plan.UndoPass && f.marks[at][pos].closed() {
			fs.Fraction = 0 // it was let go again
		}
		if at >= 0 {
			m := f.marks[at][pos]
			switch {
			case m == MarkDone && at < cur && done < all, m == MarkPart:
				fs.State = StandingPart
			case m != MarkNone:
				fs.State = Standing(m)
			case f.torque[pos] > 0 || done > 0:
				fs.State = StandingPart
			}
			fs.Word = f.word(m, f.s.Passes[at].Kind, pos+1, fs.Degrees)
		}
		if left, standing, ok := f.eased(pos, cur); ok {
			fs.Fraction, fs.State, fs.LetGoAt = left, standing, f.letGoAt[pos]
		}
		if fs.Word != "" {
			f.s.Exceptions = append(f.s.Exceptions, fs.Word)
		}
		f.s.Fasteners = append(f.s.Fasteners, fs)
	}
}

// visits lists the marks of a fastener and counts its passes; at is the present pass, or the last one before it that
// the fastener belongs to, −1 for none.
func (f *folder) visits(fs *FastenerState, pos, cur int) (done, all, at int) {
	at = -1
	for i := range f.marks {
		if !f.has(i, pos+1) || f.s.Passes[i].Void != "" {
			continue
		}
		fs.Marks = append(fs.Marks, f.marks[i][pos])
		if all++; f.marks[i][pos].closed() {
			done++
		}
		if i <= cur {
			at = i
		}
	}
	return done, all, at
}

// fraction is how far a fastener has come: torque over final torque, else passes done over all.
func (f *folder) fraction(g *plan.FastenerGroup, pos, done, all int) float64 {
	final := g.FinalNm
	if final == 0 {
		final = g.TargetNm
	}
	switch {
	case g.ByTorque() && final > 0:
		return float64(f.torque[pos] / final)
	case all > 0:
		return float64(done) / float64(all)
	}
	return 0
}

// word says what is not right with a fastener, "" when nothing is.
func (f *folder) word(m Mark, kind plan.PassKind, position int, degrees float64) string {
	num := f.label(position)
	if g := f.p.GroupAt(position); g.Layout.Count == 1 && f.p.Several() {
		num = g.Word()
	}
	switch m {
	case MarkShort:
		if kind == plan.EffortPass || kind == plan.StretchPass {
			return num + " outside its window"
		}
		if kind == plan.EasePass {
			return num + " still held"
		}
		return num + " short"
	case MarkOver:
		return num + " over"
	case MarkSkipped:
		return num + " for later"
	case MarkMoved, MarkMovedOK:
		if degrees > 0 {
			return num + " turned " + quantity.Text(degrees) + "°"
		}
		return num + " turned"
	}
	return ""
}
