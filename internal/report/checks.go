package report

import (
	"fmt"
	"strings"

	"dynacor/core/run"
)

func (s *sheet) checks() {
	s.rule("Checks, as answered")
	rows := [][]string{}
	for _, c := range s.v.Record.Plan.Checks {
		for _, cs := range s.v.Record.State.Checks {
			if cs.Code != c.Code {
				continue
			}
			when, by := "", cs.By
			if cs.At != nil {
				when = cs.At.Format("2 Jan 15:04")
			}
			if cs.SignedBy != "" {
				by += ", signed " + cs.SignedBy
			}
			text := cs.Text
			for i, a := range cs.Attempts {
				switch last := i == len(cs.Attempts)-1; {
				case last:
					text += s.readAt(a.EventID)
				case !a.OK:
					text += fmt.Sprintf("; earlier: %s%s (%s)", a.Text, s.readAt(a.EventID), a.At.Format("15:04"))
				}
			}
			if c.Limit > 0 {
				text += ". Limit from " + c.LimitFrom
			}
			rows = append(rows,
				[]string{c.Title, map[run.CheckStatus]string{run.CheckCleared: "cleared", run.CheckByLeave: "by leave",
					run.CheckOpen: "open", run.CheckStopped: "stopped", run.CheckToSign: "not signed",
					run.CheckToWaive: "not signed", run.CheckWaived: "waived"}[cs.Status], text,
					by, when})
		}
	}
	s.table([]float64{.21, .10, .37, .2, .12}, []string{"Check", "State", "Answer", "By", "When"}, rows)
}

// readAt gives the readings of an answer, each as it was typed.
func (s *sheet) readAt(eventID string) string {
	for _, e := range s.v.Record.Events {
		if e.Event.ID != eventID || len(e.Event.Values) < 2 {
			continue
		}
		var list []string
		for _, v := range e.Event.Values {
			list = append(list, v.Words())
		}
		return "; read " + strings.Join(list, ", ")
	}
	return ""
}

func (s *sheet) deviations() {
	s.rule("Not as planned")
	rows := [][]string{}
	for _, d := range s.v.Record.State.Deviations {
		rows = append(rows, []string{d.What, string(d.Status), strings.TrimSpace(d.Closed + " " + d.Why), d.By,
			d.At.Format("2 Jan 15:04")})
	}
	back := len(s.v.Record.State.TakenBack)
	if len(rows) == 0 {
		s.line(left+1, width, "text", 9, "No deviation from the plan.")
	} else {
		s.table([]float64{.36, .1, .3, .13, .11}, []string{"What", "Status", "How it was closed, why", "By", "When"},
			rows)
	}
	if back > 0 {
		said := fmt.Sprintf("%d entries were taken back; they stay in the record, struck through in the list below.",
			back)
		if back == 1 {
			said = "One entry was taken back; it stays in the record, struck through in the list below."
		}
		s.line(left+1, width, "text", 9, said)
	}
}
