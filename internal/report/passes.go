package report

import (
	"fmt"
	"strings"

	"dynacor/core/plan"
	"dynacor/core/quantity"
	"dynacor/core/run"
)

func (s *sheet) passes() {
	s.rule("Passes")
	rows := [][]string{}
	for _, p := range s.v.Record.State.Passes {
		from, to := "", ""
		if p.From != nil {
			from = p.From.Format("2 Jan 15:04")
		}
		if p.To != nil {
			to = p.To.Format("15:04")
		}
		bad := strings.Join(p.NotRight, "; ")
		if bad == "" {
			bad = "none"
		}
		if p.Void != "" {
			bad = strings.TrimPrefix("set aside: "+p.Void+"; "+strings.Join(p.NotRight, "; "), "; ")
			bad = strings.TrimSuffix(bad, "; ")
		}
		name := fmt.Sprintf("%d, %s", p.Number, p.Name)
		if p.GroupName != "" {
			name += ", " + p.GroupName
		}
		nut, set := "–", "–"
		if p.TorqueNm > 0 {
			nut = sig(float64(p.TorqueNm)) + " N·m"
		}
		if p.LowNm > 0 {
			nut = sig(p.LowNm) + " to " + sig(p.HighNm) + " N·m"
		}
		if p.TurnDeg > 0 {
			set = quantity.Text(p.TurnDeg) + "°"
		}
		if low, high := p.Own.Span(); high > 0 {
			set = fmt.Sprintf("each its own, %.0f to %.0f %% of the target", low, high)
		} else if p.Setting > 0 {
			set = quantity.Text(p.Setting) + " " + p.Unit.Symbol() + " on " + strings.Join(p.Wrenches,
				", ")
		}
		if p.Kind == plan.EasePass {
			nut = quantity.Text(p.Percent) + " %"
		}
		rows = append(rows, []string{name, nut, set,
			strings.Join(p.People, ", "), from + " to " + to, bad})
	}
	head := []string{"Pass", "At the nut", "Set", "Done by", "When (UTC)", "Not right"}
	if s.v.Record.Plan.Apart() {
		head[1], head[2] = "Left, about", "Turned back"
	}
	s.table([]float64{.17, .12, .19, .17, .16, .19}, head, rows)
}

// fastener names one by its position. In older chains there may be one that the joint does not have.
func (s *sheet) fastener(position int) string {
	if list := s.v.Record.State.Fasteners; position >= 1 && position <= len(list) {
		return list[position-1].Name
	}
	return fmt.Sprintf("position %d, not on this joint", position)
}

// readings lists every pull, those taken back struck through.
func (s *sheet) readings() {
	s.rule("Every pull, in order")
	dropped := map[string]bool{}
	for _, id := range s.v.Record.State.TakenBack {
		dropped[id] = true
	}
	s.font("mono", 6.8)
	type pull struct {
		text string
		back bool
	}
	var list []pull
	widest := 0.0
	for _, e := range s.v.Record.Events {
		if e.Event.Kind == run.Pulled {
			p := pull{s.pullText(e.Event), dropped[e.Event.ID]}
			list, widest = append(list, p), max(widest, s.GetStringWidth(p.text))
		}
	}
	cols := max(1, min(3, int(width/(widest+3))))
	w := width / float64(cols)
	for i := 0; i < len(list); i += cols {
		high := 1
		for k, p := range list[i:min(i+cols, len(list))] {
			s.font("mono", 6.8)
			lines := s.split(p.text, w)
			if k == 0 {
				s.room(4.2)
				s.font("mono", 6.8)
			}
			high = max(high, len(lines))
			for j, l := range lines {
				x, y := left+float64(k)*w, s.y+float64(j)*4
				s.Text(x, y+3, l)
				if p.back {
					s.Line(x, y+2.2, x+s.GetStringWidth(l), y+2.2)
				}
			}
		}
		s.y += 4 * float64(high)
	}
}

// pullText is a pull as it was recorded: time, pass, fastener, outcome and figure.
func (s *sheet) pullText(ev run.Event) string {
	t := fmt.Sprintf("%s  pass %d  %s  %s", ev.At.Format("15:04:05"), ev.Pass, s.fastener(ev.Fastener),
		strings.ReplaceAll(string(ev.Outcome), "_", " "))
	switch {
	case ev.Reading != nil:
		t += " " + ev.Reading.Words()
	case ev.Setting > 0:
		t += " " + quantity.Text(ev.Setting)
	case ev.TurnedDeg > 0:
		t += " " + quantity.Text(ev.TurnedDeg) + "°"
	}
	if ev.Moved != nil && *ev.Moved {
		t += " turned"
	}
	switch {
	case ev.Device != "":
		t += ", sent by " + ev.Device
	case ev.Reading != nil:
		t += ", typed"
	}
	return t
}
