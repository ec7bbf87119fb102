// Package practice gives the physics that stand-ins and learners pull on: a fastener that answers each degree of turn
// with a torque. It must never be taken for a judgement of a real joint. Torques N·m, angles degrees, forces kN,
// lengths mm.
package practice

import (
	"math"
	"math/rand/v2"

	"dynacor/core/quantity"
)

// Condition is what is odd with a fastener.
type Condition string

// The conditions a stand-in can be given.
const (
	Sound        Condition = "sound"
	CrossThread  Condition = "cross_thread"  // runs down stiffly
	Bottomed     Condition = "bottomed_out"  // rises in two slopes
	AlreadyTight Condition = "already_tight" // snug and more before it is touched
	Soft         Condition = "soft"          // a bolt that yields early
)

// Joint is what every fastener of a joint shares.
type Joint struct {
	DiameterMM    float64
	PitchMM       float64
	KLow, KHigh   float64 // spread of the nut factor
	KNPerDeg      float64 // load for a degree of turn once everything bears
	YieldKN       float64
	SnugDeg       float64 // free run before the parts meet
	PrevailingNm  float64 // torque of running down
	GasketDeg     float64 // turn over which a gasket stiffens; 0: metal on metal
	StickSlipPct  float64 // how much the torque jumps
	NeighbourDrop float64 // share of its load that a bolt loses while a neighbour is tightened
}

// Flange gives a plausible joint for a target torque at the nut: the target is reached about 50 degrees after snug,
// yield well above it.
func Flange(diameter, pitch quantity.Length, k float64, target quantity.Torque) Joint {
	targetNm, d := float64(target), float64(diameter)
	load := targetNm / (k * d)
	return Joint{DiameterMM: d, PitchMM: float64(pitch), KLow: 0.9 * k, KHigh: 1.1 * k, KNPerDeg: load / 40,
		YieldKN: 1.7 * load, SnugDeg: 30, PrevailingNm: 0.02 * targetNm, GasketDeg: 20, StickSlipPct: 1,
		NeighbourDrop: 0.03}
}

// Check refuses a joint that cannot be.
func (j Joint) Check() error {
	if err := quantity.Positive("diameter", j.DiameterMM, "pitch", j.PitchMM, "kLow", j.KLow, "kHigh", j.KHigh,
		"knPerDeg", j.KNPerDeg, "yield", j.YieldKN); err != nil {
		return err
	}
	if j.KHigh < j.KLow {
		return quantity.Refuse("kHigh", "Enter the lower nut factor first.", "is below the lower one")
	}
	for name, v := range map[string]float64{"snugDeg": j.SnugDeg, "prevailing": j.PrevailingNm,
		"gasketDeg": j.GasketDeg, "stickSlip": j.StickSlipPct, "neighbourDrop": j.NeighbourDrop} {
		if err := quantity.Between(name, v, 0, 360); err != nil {
			return err
		}
	}
	return nil
}

// Bolt is one fastener being turned.
type Bolt struct {
	Joint     Joint
	Condition Condition
	K         float64 // nut factor drawn for this one
	AngleDeg  float64 // turned since the nut was run on
	LoadKN    float64
	Yielded   bool

	rng   *rand.Rand
	stick float64
}

// New gives a fastener with its own friction, drawn evenly from the spread. The same generator gives the same fastener.
func New(j Joint, c Condition, rng *rand.Rand) *Bolt {
	b := &Bolt{Joint: j, Condition: c, K: j.KLow + rng.Float64()*(j.KHigh-j.KLow), rng: rng}
	if c == AlreadyTight {
		b.Turn(quantity.Angle(j.SnugDeg + j.GasketDeg + 0.6*j.YieldKN/j.KNPerDeg/1.7))
	}
	return b
}

// Turn turns the nut and gives the torque that took. Backwards it lets load off.
func (b *Bolt) Turn(by quantity.Angle) quantity.Torque {
	const step = 0.25
	for left := math.Abs(float64(by)); left > 0; left -= step {
		b.turn(math.Copysign(math.Min(step, left), float64(by)))
	}
	return b.Torque()
}

func (b *Bolt) turn(deg float64) {
	b.AngleDeg += deg
	past := b.AngleDeg - b.Joint.SnugDeg
	if past <= 0 {
		b.LoadKN = 0
		return
	}
	k := b.Joint.KNPerDeg
	if g := b.Joint.GasketDeg; g > 0 && past < g && b.Condition != Bottomed {
		k *= 0.25 + 0.75*past/g // a gasket bears more the more it is squeezed
	}
	yield := b.Joint.YieldKN
	switch {
	case b.Condition == Bottomed && past < 20:
		k *= 0.4 // the thread runs out before the faces meet: a part of the way is spent in the nut
	case b.Condition == Soft:
		yield *= 0.45
	}
	if b.LoadKN >= yield && deg > 0 {
		b.Yielded = true
		k *= 0.03
	}
	b.LoadKN = math.Max(0, b.LoadKN+k*deg)
	if b.rng.Float64() < 0.15 {
		b.stick = (2*b.rng.Float64() - 1) * b.Joint.StickSlipPct / 100
	}
}

// Torque is what the nut answers where it stands.
func (b *Bolt) Torque() quantity.Torque {
	prevailing := b.Joint.PrevailingNm
	if b.Condition == CrossThread {
		prevailing += 0.35 * b.K * b.Joint.DiameterMM * b.Joint.YieldKN / 1.7
	}
	return quantity.Torque((b.K*b.Joint.DiameterMM*b.LoadKN + prevailing) * (1 + b.stick))
}

// Relax takes load off a fastener whose neighbour was tightened.
func (b *Bolt) Relax() { b.LoadKN *= 1 - b.Joint.NeighbourDrop }
