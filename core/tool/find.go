package tool

import (
	"cmp"
	"math"
	"slices"
	"strings"
	"time"

	"dynacor/core/quantity"
)

// mostPull is the pull at the grip above which a set-up is ranked after those that multiply it, N. Source: own rule;
// about what one person gives standing firm.
const mostPull = 500

// Need is what a set-up is looked for. Torques at the nut in N·m; zero means not known or not asked for.
type Need struct {
	Nm            quantity.Torque
	LowNm, HighNm quantity.Torque // allowed by the document
	Scheme        string          // of stages; "": one value
	AcrossFlats   float64         // hexagon, mm; 0: sockets are left out
	Offset        bool            // no room straight above the nut: an adapter is needed
	AdapterDeg    float64
	Bolt          *Bolt // for tensioners; nil: they are left out
	MinFrac       float64
	PreferredFrac float64
	On            time.Time
	Busy          map[string]string // by tag: why it is not to hand, in words
}

// Bolt is what a tensioner needs to know. LoadKN is what shall stay for the full torque.
type Bolt struct {
	LoadKN, DiameterMM, StressAreaMM2, ClampMM, YieldMPa float64
}

// Piece is one tool of a set-up in words.
type Piece struct {
	Tag  string `json:"tag"`
	Kind Kind   `json:"kind"`
	Text string `json:"text"`
}

// Offer is a set-up judged for a need.
type Offer struct {
	Tags     string          `json:"tags"` // joined with a plus, from hand or pump to the nut
	Name     string          `json:"name"`
	Method   Method          `json:"method"`
	Pieces   []Piece         `json:"pieces"`
	Usable   bool            `json:"usable"`
	Problems []string        `json:"problems"`
	Reasons  []string        `json:"reasons"`
	Settings []float64       `json:"settings"` // one for each stage, on the scale in Unit
	Unit     quantity.Unit   `json:"unit"`
	AtNutNm  quantity.Torque `json:"atNutNm"` // what the last setting gives
	LowNm    quantity.Torque `json:"lowNm"`   // true torque, least
	HighNm   quantity.Torque `json:"highNm"`
	Share    float64         `json:"share"` // last setting of full scale
	Reaction *Reaction       `json:"reaction,omitempty"`
	PullN    float64         `json:"pullN,omitempty"` // at the middle of the grip
	Busy     string          `json:"busy,omitempty"`

	accuracy, off, fullScale float64
	problems                 []Problem
}

// Find gives every set-up that the crib can make for a need, the best first, then those that it cannot, with what each
// lacks. The order: to hand, not heavier to pull than one person can, fewer things between hand and nut, smaller error,
// nearer the good part of the scale. Source: own rule.
func Find(need Need, crib []Tool) []Offer {
	var out []Offer
	byKind := map[Kind][]Tool{}
	var hands []Tool
	for _, t := range crib {
		byKind[t.Kind] = append(byKind[t.Kind], t)
		if t.Kind.Sets() == ByTorque {
			hands = append(hands, t)
		}
	}
	if need.Offset {
		for _, a := range byKind[Adapter] {
			if need.AcrossFlats > 0 && math.Abs(a.AcrossFlatsMM-need.AcrossFlats) > 0.3 {
				continue
			}
			out = append(out, bestOf(need, hands,
				func(w Tool) SetUp { return SetUp{String: []Tool{w, a}, AdapterDeg: need.AdapterDeg} }, a)...)
		}
	} else {
		for _, w := range hands {
			out = append(out, judge(need, withSocket(need, Alone(w), byKind[Socket])))
		}
		for _, m := range byKind[MultiplierKind] {
			out = append(out, bestOf(need, hands,
				func(w Tool) SetUp { return withSocket(need, SetUp{String: []Tool{w, m}}, byKind[Socket]) }, m)...)
		}
		for _, h := range append(slices.Clone(byKind[HydraulicWrench]), byKind[Tensioner]...) {
			if h.Kind == Tensioner && (need.Bolt == nil || math.Abs(h.DiameterMM-need.Bolt.DiameterMM) > 0.5) {
				continue
			}
			out = append(out, bestOf(need, byKind[Pump],
				func(p Tool) SetUp { return hydraulic(need, p, h, byKind[Hose], byKind[Socket]) }, h)...)
		}
	}
	slices.SortStableFunc(out, func(a, b Offer) int {
		return cmp.Or(-cmp.Compare(side(a.Usable), side(b.Usable)), cmp.Compare(side(a.Busy != ""), side(b.Busy != "")),
			cmp.Compare(side(a.PullN > mostPull), side(b.PullN > mostPull)),
			cmp.Compare(rank[a.Method], rank[b.Method]), cmp.Compare(a.accuracy, b.accuracy), cmp.Compare(a.off, b.off),
			cmp.Compare(a.fullScale, b.fullScale), strings.Compare(a.Tags, b.Tags))
	})
	return out
}

var rank = map[Method]int{ByWrench: 0, ByMultiplier: 1, ByHydraulics: 2, ByTension: 3}

func side(b bool) int {
	if b {
		return 1
	}
	return 0
}

// bestOf keeps the usable set-ups of one tool with each driver, or the nearest miss, so that what is missing is said
// once.
func bestOf(need Need, drivers []Tool, with func(Tool) SetUp, what Tool) []Offer {
	var good []Offer
	var miss *Offer
	fits := func(d Tool) bool {
		in, err1 := DriveSize(what.DriveIn)
		square, err2 := DriveSize(d.Drive)
		return err1 != nil || err2 != nil || math.Abs(float64(in-square)) <= 0.1
	}
	some := slices.ContainsFunc(drivers, fits)
	for _, d := range drivers {
		if d.Kind == Screwdriver || some && !fits(d) { // that a square does not fit is said only when none does
			continue
		}
		o := judge(need, with(d))
		if o.Usable {
			good = append(good, o)
		} else if miss == nil || len(o.Problems) < len(miss.Problems) || len(o.Problems) == len(miss.Problems) &&
			o.off < miss.off {
			miss = &o
		}
	}
	switch {
	case len(good) > 0:
		return good
	case miss != nil:
		return []Offer{*miss}
	}
	lack := "no torque wrench in the crib to drive it"
	if what.Kind == HydraulicWrench || what.Kind == Tensioner {
		lack = "no pump in the crib to drive it"
	}
	o := describe(SetUp{String: []Tool{what}})
	o.Problems, o.problems = []string{what.Tag + ": " + lack}, []Problem{{Code: "missing", What: lack}}
	return []Offer{o}
}

// withSocket adds the socket that fits hexagon and drive, for power where power is used. Without sockets in the
// register none is asked for.
func withSocket(need Need, s SetUp, sockets []Tool) SetUp {
	last := s.String[len(s.String)-1]
	drive, err := DriveSize(last.Drive)
	if need.AcrossFlats == 0 || len(sockets) == 0 || err != nil { // a tool with a link of its own takes no socket
		return s
	}
	var best *Tool
	for i, k := range sockets {
		in, err := DriveSize(k.DriveIn)
		if err != nil || math.Abs(float64(in-drive)) > 0.1 || math.Abs(k.AcrossFlatsMM-need.AcrossFlats) > 0.3 ||
			len(k.Standing(need.On)) > 0 {
			continue
		}
		power := s.Method() != ByWrench
		if best == nil || power && k.Impact && !best.Impact || need.Busy[best.Tag] != "" && need.Busy[k.Tag] == "" {
			best = &sockets[i]
		}
	}
	if best == nil {
		return SetUp{String: append(slices.Clone(s.String), Tool{Kind: Socket, AcrossFlatsMM: need.AcrossFlats,
			DriveIn: last.Drive}), AdapterDeg: s.AdapterDeg, NmPerMPa: s.NmPerMPa}
	}
	s.String = append(slices.Clone(s.String), *best)
	return s
}

func hydraulic(need Need, pump, head Tool, hoses, sockets []Tool) SetUp {
	s := SetUp{String: []Tool{pump}}
	for _, h := range hoses {
		if len(h.Standing(need.On)) == 0 && h.MaxMPa >= math.Min(head.MaxMPa, pump.mpaMax()) {
			s.String = append(s.String, h)
			break
		}
	}
	if len(hoses) > 0 && len(s.String) == 1 {
		s.String = append(s.String, Tool{Kind: Hose, MaxMPa: head.MaxMPa})
	}
	s.String = append(s.String, head)
	if head.Kind == Tensioner {
		s.NmPerMPa = perMPa(need, head)
		return s
	}
	return withSocket(need, s, sockets)
}

func (t Tool) mpaMax() float64 {
	v, err := quantity.Convert(t.RatedMax, t.Unit, quantity.Megapascal)
	if err != nil {
		return 0
	}
	return v
}

// OnJoint completes a set-up with what it gives for a need; only tensioners depend on it.
func (s SetUp) OnJoint(need Need) SetUp {
	if t, ok := s.Of(Tensioner); ok {
		s.NmPerMPa = perMPa(need, t)
	}
	return s
}

// perMPa is the torque at the nut that each MPa of a tensioner stands for: the load it leaves in the bolt, as a share
// of the load that the whole torque gives. 0 when it cannot be told.
func perMPa(need Need, t Tool) float64 {
	b := need.Bolt
	if b == nil {
		return 0
	}
	r, err := TensionerPressure(nil, TensionerInput{Residual: b.LoadKN * 1000, Area: t.AreaMM2, Clamp: b.ClampMM,
		Diameter: b.DiameterMM, StressArea: b.StressAreaMM2, Limit: 1e6, Graduation: 0.001, Max: 1e6, A: t.LossA,
		B: t.LossB, Pass: 1})
	if err != nil {
		return 0
	}
	return float64(need.Nm) / r.Pressure
}

// Never says what is refused whatever is looked for, and why.
func Never() []string {
	return []string{
		"A pipe on the handle: it changes the lever the wrench was calibrated with, passes what wrench and square " +
			"bear, and slips. Take a multiplier.",
		"Two adapters on one wrench: each moves the lever, together nobody can tell the torque.",
		"A multiplier behind a multiplier, or an adapter under one: the reaction goes through a part that is not " +
			"made for it.",
	}
}

// Pick puts together the set-up that tags name, from hand or pump to the nut, for a need. Refused: a tag that is not in
// the crib, a string that does not begin with a tool to be set.
func Pick(need Need, tags string, crib []Tool) (SetUp, error) {
	s := SetUp{AdapterDeg: need.AdapterDeg}
	for _, tag := range strings.Split(tags, "+") {
		i := slices.IndexFunc(crib, func(t Tool) bool { return t.Tag == tag })
		if i < 0 {
			return s, quantity.Refuse("wrench", "Choose from the list.", "%q is not in the crib", tag)
		}
		s.String = append(s.String, crib[i])
		if crib[i].Kind == Tensioner {
			s.NmPerMPa = perMPa(need, crib[i])
		}
	}
	if s.Driver().Kind.Sets() == "" {
		return s, quantity.Refuse("wrench", "Name the wrench or the pump first, then what is between, then the socket.",
			"%s is a %s: nothing is set on it", s.Driver().Tag, s.Driver().Kind.Word())
	}
	return s, nil
}
