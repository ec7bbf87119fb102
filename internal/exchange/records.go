package exchange

import (
	"iter"
	"slices"
	"strings"

	"dynacor/core/record"
	"dynacor/core/run"
)

// resultColumns are those of Results; the first two tell of which record.
var resultColumns = []string{"record", "tag", "entry", "fastener", "position", "group", "pass", "pass_name", "act",
	"outcome", "target_Nm", "setting", "setting_unit", "reading", "reading_si", "turned_deg", "moved", "tool", "by",
	"at_utc", "counts", "reason"}

// ResultSheet has a line for everything that was done to a fastener, of one record after the other.
func ResultSheet(records iter.Seq[record.Record]) Sheet {
	return Sheet{Name: "Results", Columns: resultColumns, Rows: func(yield func([]any) bool) {
		for r := range records {
			for _, x := range r.Results() {
				if !yield(resultCells(r, x)) {
					return
				}
			}
		}
	}}
}

func resultCells(r record.Record, x record.Result) []any {
	return []any{r.Number, r.Plan.Joint.Tag, x.Seq, x.Fastener, x.Position, x.Group, x.Pass, x.PassName,
		plain(string(x.Act)), plain(string(x.Outcome)), some(x.TargetNm), some(x.Setting), x.Unit, x.Reading,
		some(x.ReadingSI), some(x.TurnedDeg), maybe(x.Moved), x.Tool, x.By, x.At, x.Counts, x.Why}
}

var entryColumns = []string{"record", "tag", "entry", "at_utc", "received_utc", "kind", "by", "role", "signer", "check",
	"answer", "readings", "product", "batch", "pass", "fastener", "outcome", "setting", "reading", "reason", "note",
	"device", "counts", "hash"}

// EntrySheet has a line for every entry, of one record after the other.
func EntrySheet(records iter.Seq[record.Record]) Sheet {
	return Sheet{Name: "Entries", Columns: entryColumns, Rows: func(yield func([]any) bool) {
		for r := range records {
			for _, x := range r.Events {
				if !yield(entryCells(r, x)) {
					return
				}
			}
		}
	}}
}

func entryCells(r record.Record, x record.Entry) []any {
	e := x.Event
	signer, fastener, reading := "", "", ""
	if e.Signer != nil {
		signer = e.Signer.Name
	}
	if e.Fastener >= 1 && e.Fastener <= r.Plan.Count() {
		fastener = r.Plan.NameOf(e.Fastener)
	}
	if e.Reading != nil {
		reading = e.Reading.Words()
	}
	return []any{r.Number, r.Plan.Joint.Tag, x.Seq, e.When(), x.ReceivedAt, plain(string(e.Kind)), e.Person.Name,
		e.Person.Role, signer, e.Check, plain(e.Answer), readings(e.Values), e.Product, e.Batch, someInt(e.Pass),
		fastener, plain(string(e.Outcome)), some(e.Setting), reading, e.Reason, e.Note, e.Device,
		!slices.Contains(r.State.TakenBack, e.ID), x.Hash}
}

func readings(list []run.Reading) string {
	words := make([]string, len(list))
	for i, v := range list {
		words[i] = v.Words()
	}
	return strings.Join(words, "; ")
}

func plain(code string) string { return strings.ReplaceAll(code, "_", " ") }

// some is a figure, or nothing when it is 0: an empty cell is not averaged.
func some(v float64) any {
	if v == 0 {
		return nil
	}
	return v
}

func someInt(v int) any {
	if v == 0 {
		return nil
	}
	return v
}

func maybe(v *bool) any {
	if v == nil {
		return nil
	}
	return *v
}
