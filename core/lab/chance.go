package lab

import (
	"context"
	"math"
	"slices"

	"dynacor/core/chance"
	"dynacor/core/interaction"
)

// Draws are histories with friction, tool and gasket as they fall.
type Draws struct {
	N      int         `json:"n"`
	Forces [][]float64 `json:"forces"` // kN of each bolt in the end, by history
	Stress []float64   `json:"stress"` // MPa, lowest of the gasket
}

// Draw goes through a procedure n times from the draw numbered first: force by torque with the spread of friction and
// tool together, and a gasket as stiff as its spread lets it be. The same seed gives the same histories, however they
// are dealt out.
func (j *Joint) Draw(ctx context.Context, p Procedure, seed uint64, first, n int) (*Draws, error) {
	seq, err := p.sequence(j.Setup)
	if err != nil {
		return nil, err
	}
	cov := min(.39, math.Hypot(j.Setup.FrictionPct, j.Setup.ToolPct)/100)
	out := &Draws{}
	for i := range n {
		if ctx.Err() != nil {
			return nil, ctx.Err()
		}
		s := chance.Source(seed + uint64(first+i)*0x9E3779B9)
		of := j.Model
		if j.Setup.CurvePct > 0 {
			of = j.stiffer(math.Exp(j.Setup.CurvePct / 100 * min(2.5, max(-2.5, s.Normal()))))
		}
		seq.Torque = &interaction.Control{Mean: 1, CoV: cov, Seed: s.Next()}
		m, err := interaction.New(of)
		if err != nil {
			return nil, err
		}
		player, err := m.Prepare(seq)
		if err != nil {
			return nil, err
		}
		if err := player.Play(ctx, nil); err != nil {
			return nil, err
		}
		out.N++
		out.Forces = append(out.Forces, kilo(m.Forces()))
		out.Stress = append(out.Stress, m.Stress().Min/1e6)
	}
	return out, nil
}

// Chances are what draws say.
type Chances struct {
	N      int          `json:"n"`
	Window float64      `json:"window"` // percent, that each bolt may lie off the target
	Inside float64      `json:"inside"` // share of histories in which every bolt ends inside
	Holds  float64      `json:"holds"`  // in which the gasket keeps what it needs
	Band   [][3]float64 `json:"band"`   // kN of each bolt: 10, 50 and 90 of 100 histories end below it
	Even   float64      `json:"even"`   // percent, lowest of highest in the middle
}

// Sum counts draws: how often every bolt ends within so many percent of the target.
func (j *Joint) Sum(draws []*Draws, window float64) Chances {
	c := Chances{Window: window}
	var all [][]float64
	var even []float64
	inside, holds := 0, 0
	for _, d := range draws {
		for i, f := range d.Forces {
			all = append(all, f)
			in := true
			for _, v := range f {
				in = in && math.Abs(v-j.Setup.TargetKN) <= window/100*j.Setup.TargetKN
			}
			if in {
				inside++
			}
			if d.Stress[i] >= j.Setup.NeedMPa {
				holds++
			}
			even = append(even, 100*slices.Min(f)/max(1e-9, slices.Max(f)))
		}
	}
	if c.N = len(all); c.N == 0 {
		return c
	}
	c.Inside, c.Holds = float64(inside)/float64(c.N), float64(holds)/float64(c.N)
	for b := range j.Setup.Bolts {
		list := make([]float64, c.N)
		for i, f := range all {
			list[i] = f[b]
		}
		slices.Sort(list)
		at := func(p float64) float64 { return list[max(0, int(math.Ceil(p*float64(c.N)))-1)] }
		c.Band = append(c.Band, [3]float64{at(.1), at(.5), at(.9)})
	}
	slices.Sort(even)
	c.Even = even[(len(even)-1)/2]
	return c
}

// Buy is something that would make it better, with what it costs.
type Buy struct {
	What    string  `json:"what"`
	Inside  float64 `json:"inside"` // share of histories in which every bolt ends inside, with it
	Even    float64 `json:"even"`
	Pulls   int     `json:"pulls"`   // more than without
	Minutes float64 `json:"minutes"` // more than without
}

// Buys tells what each of a few changes would bring, over n histories each, the one that brings most first.
func (j *Joint) Buys(ctx context.Context, p Procedure, seed uint64, n int, window float64) ([]Buy, error) {
	plain, err := j.Play(ctx, p)
	if err != nil {
		return nil, err
	}
	oil, tool := *j, *j
	oil.Setup.FrictionPct /= 2
	tool.Setup.ToolPct /= 2
	round, other, tension := p, p, p
	round.Rounds++
	other.Targets, tension.Targets = nil, nil
	other.School = map[bool]string{true: "clockwise", false: "cross"}[p.School == "cross"]
	tension.School, tension.Stages, tension.Rounds = together, []float64{100}, 0
	var out []Buy
	for _, x := range []struct {
		what string
		j    *Joint
		p    Procedure
	}{{"as it is", j, p}, {"one more round", j, round}, {"half the spread of friction", &oil, p},
		{"half the spread of the tool", &tool, p}, {"all bolts tensioned at once", j, tension},
		{"the order " + other.Word(), j, other}} {
		o, err := x.j.Play(ctx, x.p)
		if err != nil {
			continue // the other order does not fit so many tools
		}
		d, err := x.j.Draw(ctx, x.p, seed, 0, n)
		if err != nil {
			return nil, err
		}
		c := x.j.Sum([]*Draws{d}, window)
		out = append(out, Buy{x.what, c.Inside, c.Even, o.Pulls - plain.Pulls, o.Minutes - plain.Minutes})
	}
	slices.SortStableFunc(out[1:], func(a, b Buy) int {
		if a.Inside != b.Inside {
			return map[bool]int{true: -1, false: 1}[a.Inside > b.Inside]
		}
		return map[bool]int{true: -1, false: 1}[a.Even > b.Even]
	})
	return out, nil
}

// Advice is the procedure with the fewest pulls that is even enough.
type Advice struct {
	Procedure Procedure `json:"procedure"`
	Word      string    `json:"word"`
	Pulls     int       `json:"pulls"`
	Minutes   float64   `json:"minutes"`
	Even      float64   `json:"even"`
	Tried     int       `json:"tried"`
	Enough    bool      `json:"enough"` // false: none was, this is the most even
}

// Advise tries schools, stages and rounds, and gives the fewest pulls after which the lowest bolt has so many percent of
// the highest.
func (j *Joint) Advise(ctx context.Context, even float64, tools int) (*Advice, error) {
	var best *Advice
	tried := 0
	for _, stages := range [][]float64{{100}, {50, 100}, {30, 70, 100}, {30, 60, 100}} {
		for _, school := range []string{"cross", "clockwise", "group"} {
			for rounds := 0; rounds <= 8; rounds++ {
				p := Procedure{School: school, Stages: stages, Tools: tools, Rounds: rounds}
				o, err := j.Play(ctx, p)
				if ctx.Err() != nil {
					return nil, ctx.Err()
				}
				if err != nil {
					break
				}
				tried++
				a := &Advice{p, p.Word(), o.Pulls, o.Minutes, o.Even, tried, o.Even >= even && !o.Yields}
				switch {
				case best == nil,
					a.Enough && !best.Enough,
					a.Enough == best.Enough && a.Enough && (a.Minutes < best.Minutes ||
						a.Minutes == best.Minutes && a.Even > best.Even),
					!a.Enough && !best.Enough && a.Even > best.Even:
					best = a
				}
				if a.Enough {
					break // more rounds only cost more
				}
			}
		}
	}
	if best == nil {
		_, err := j.Play(ctx, Procedure{School: "cross", Stages: []float64{100}, Tools: tools})
		return nil, err
	}
	best.Tried = tried
	return best, nil
}

// Compensated are targets of a last pass that make up for what later pulls take, with what a gasket a fifth softer or
// stiffer makes of them.
type Compensated struct {
	Procedure Procedure `json:"procedure"`
	Ratio     float64   `json:"ratio"` // highest target over the force in the end
	Even      float64   `json:"even"`  // percent, with the gasket as it is
	Softer    float64   `json:"softer"`
	Stiffer   float64   `json:"stiffer"`
	Yields    bool      `json:"yields"`    // one of the targets is above yield
	Percents  []float64 `json:"percents"`  // of the force in the end, in the order of the bolts
	AsPlanned bool      `json:"asPlanned"` // but for the targets it is the way in which the joint is planned
}

// Compensate finds the targets for a procedure's order, its stages before the last as they are; planned is the way in
// which the joint is planned, nil: in none.
func (j *Joint) Compensate(ctx context.Context, p Procedure, planned *Procedure) (*Compensated, error) {
	p.Targets, p.Rounds = nil, 0
	seq, err := p.sequence(j.Setup)
	if err != nil {
		return nil, err
	}
	free := j.Model
	free.Yield = 0 // told, not refused
	m, err := interaction.New(free)
	if err != nil {
		return nil, err
	}
	last := seq.Passes[len(seq.Passes)-1]
	c, err := m.Compensate(interaction.Compensation{Order: last.Order, Tools: last.Tools, Target: seq.Target,
		Pre: seq.Passes[:len(seq.Passes)-1]})
	if err != nil {
		return nil, err
	}
	p.Targets = map[string]float64{}
	out := &Compensated{Ratio: c.Ratio}
	if planned != nil {
		way := *planned
		way.Rounds = 0
		out.AsPlanned = p.same(way)
	}
	for b, t := range c.Targets {
		out.Percents = append(out.Percents, math.Round(1000*t/seq.Target)/10)
		p.Targets[number(b+1)] = math.Round(t/10) / 100
	}
	out.Procedure = p
	out.Yields = j.Setup.YieldKN > 0 && c.Ratio*j.Setup.TargetKN > j.Setup.YieldKN
	for i, by := range []float64{1, .8, 1.2} {
		of := j.stiffer(by)
		of.Yield = 0
		o, err := j.play(ctx, of, p)
		if err != nil {
			return nil, err
		}
		*[]*float64{&out.Even, &out.Softer, &out.Stiffer}[i] = o.Even
	}
	return out, nil
}
