package pressuretest

import "fmt"

// Gate is what must be so before there is pressure.
type Gate struct {
	Code    string `json:"code"`
	What    string `json:"what"`
	Barrier bool   `json:"barrier"` // it can be opened again, and then holds the next step
	PIN     bool   `json:"pin"`     // confirmed by another person, by PIN
}

// witnessGate is the word of a witness that the zone is closed and empty.
const witnessGate = "witness"

// barrierCode is the code of a barrier, from 1.
func barrierCode(i int) string { return fmt.Sprintf("barrier/%d", i) }

// Gates lists what must be so before a test, in order.
func (s Spec) Gates() []Gate {
	gauge := Gate{Code: "gauge", What: "The gauge " + s.Gauge.Tag +
		" stands where whoever raises the pressure sees it, and it moves off its stop."}
	isolated := Gate{Code: "isolated",
		What: "Blinds are in, and nothing that must not see this pressure is open to it. The isolation is tagged."}
	relief := Gate{Code: "relief", What: fmt.Sprintf("A relief valve is fitted and opens at %s or less.",
		bar(s.MostBar))}
	clear := Gate{Code: "clear", What: "Nobody stands in line with a blind, a plug or a bolt."}
	switch s.Kind {
	case Hydrostatic:
		return []Gate{isolated, {Code: "filled", What: "Filled from below, and vented at every high point until " +
			"no air comes."}, relief, gauge, clear}
	case Pneumatic:
		list := []Gate{isolated, relief, gauge}
		for i, b := range s.Barriers {
			list = append(list, Gate{Code: barrierCode(i + 1), What: "Closed: " + b + ".", Barrier: true})
		}
		return append(list, clear, Gate{Code: witnessGate, PIN: true,
			What: "A witness is here and has seen the zone closed and empty."})
	case Vacuum:
		return []Gate{isolated, gauge,
			{Code: "dry", What: "Drained and dry: what is wet inside goes on giving vapour."}}
	case Precharge:
		return []Gate{{Code: "emptied", What: "The fluid side is open and empty, proved at its gauge."},
			{Code: "inert", What: "The bottle is nitrogen, read off its label. Never air, never oxygen."},
			{Code: "regulator", What: "A regulator and a relief valve stand between the bottle and the accumulator."}}
	case Purge:
		return []Gate{{Code: "clear", What: "What moves moves free, and nobody stands in its way."},
			{Code: "filled", What: "The tank is full, and the return runs into it where it is seen."}}
	}
	return nil
}
