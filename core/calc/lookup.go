package calc

import (
	"slices"
	"strings"

	"dynacor/core/fastener"
	"dynacor/core/quantity"
)

// What a thread, a grade and a lubricant know, by input key.
var (
	threadKeys = map[string]func(t thread) float64{
		"diameter_mm":       func(t thread) float64 { return t.geo.D },
		"screw_diameter_mm": func(t thread) float64 { return t.geo.D },
		"diameter_in":       func(t thread) float64 { return t.geo.D / 25.4 },
		"pitch_mm":          func(t thread) float64 { return t.geo.Pitch },
		"tpi":               func(t thread) float64 { return t.thread.TPI },
		"d2_mm":             func(t thread) float64 { return t.geo.D2 },
		"ds_mm":             func(t thread) float64 { return t.geo.Ds },
		"As_mm2":            func(t thread) float64 { return t.geo.As },
		"stress_area_mm2":   func(t thread) float64 { return t.geo.As },
		"bolt_area_mm2":     func(t thread) float64 { return t.geo.As },
		"thread_area_mm2":   func(t thread) float64 { return t.geo.As },
		"bearing_mean_mm":   func(t thread) float64 { return t.bearing },
		"outer_mm":          func(t thread) float64 { return t.face },
		"hole_mm":           func(t thread) float64 { return t.hole },
	}
	gradeKeys = map[string]func(s fastener.Strength) float64{
		"yield_MPa":        func(s fastener.Strength) float64 { return s.Yield },
		"bolt_yield_MPa":   func(s fastener.Strength) float64 { return s.Yield },
		"tensile_MPa":      func(s fastener.Strength) float64 { return s.Tensile },
		"bolt_tensile_MPa": func(s fastener.Strength) float64 { return s.Tensile },
		"strength_MPa":     func(s fastener.Strength) float64 { return s.Yield },
	}
	lubricantKeys = map[string]func(l fastener.Lubricant) float64{
		"K":                 func(l fastener.Lubricant) float64 { return l.K.Typ },
		"nut_factor":        func(l fastener.Lubricant) float64 { return l.K.Typ },
		"K_assumed":         func(l fastener.Lubricant) float64 { return l.K.Typ },
		"K_low":             func(l fastener.Lubricant) float64 { return l.K.Low },
		"K_typ":             func(l fastener.Lubricant) float64 { return l.K.Typ },
		"K_high":            func(l fastener.Lubricant) float64 { return l.K.High },
		"mu_thread":         func(l fastener.Lubricant) float64 { return l.MuThread.Typ },
		"mu_head":           func(l fastener.Lubricant) float64 { return l.MuHead.Typ },
		"mu_thread_assumed": func(l fastener.Lubricant) float64 { return l.MuThread.Typ },
		"mu_head_assumed":   func(l fastener.Lubricant) float64 { return l.MuHead.Typ },
	}
	foundKeys = map[string]func(l fastener.Lubricant) float64{"K_actual": lubricantKeys["K"],
		"mu_thread_actual": lubricantKeys["mu_thread"], "mu_head_actual": lubricantKeys["mu_head"]}
)

// thread is a designation with all that standard tables say of it. Bearing measures are 0 where no table has them.
type thread struct {
	thread              fastener.Thread
	geo                 fastener.Geometry
	bearing, face, hole float64
	estimated           bool // the face is not in a table
}

func readThread(text string) (thread, error) {
	t, err := fastener.ParseThread(text)
	if err != nil {
		return thread{}, err
	}
	out := thread{thread: t}
	if out.geo, err = t.Geometry(nil); err != nil {
		return thread{}, err
	}
	family, series := fastener.HexISO, "medium"
	if t.System == fastener.UN {
		family, series = fastener.HexUNHeavy, "inch_flange"
	}
	hex, err := fastener.HexSize(family, quantity.Length(t.DiameterMM))
	if err != nil {
		return out, nil // no standard nut: measure the bearing face
	}
	hole, err := fastener.ClearanceHole(series, quantity.Length(t.DiameterMM))
	if err != nil {
		return out, nil
	}
	out.estimated = !hex.FromTable
	out.face, out.hole, out.bearing = hex.BearingOuterMM, float64(hole), (hex.BearingOuterMM+float64(hole))/2
	return out, nil
}

// fills says which look-ups know something about these inputs; forThread: a bare diameter is a bolt's. An input of that
// very name is no look-up.
func fills(fields []quantity.Field, forThread bool) []string {
	out := []string{}
	add := func(name string, knows func(key string) bool) {
		if hasKey(fields, name) {
			return
		}
		for _, f := range fields {
			if knows(f.Key) {
				out = append(out, name)
				return
			}
		}
	}
	bolt := forThread || slices.ContainsFunc(fields,
		func(f quantity.Field) bool { return lubricantKeys[f.Key] != nil && f.Key != "nut_factor" })
	known, ofBolt := 0, bolt // a pitch alone is not worth a thread
	for _, f := range fields {
		if threadKeys[f.Key] != nil {
			known++
			ofBolt = ofBolt || !slices.Contains(bareKeys, f.Key)
		}
	}
	add("thread", func(k string) bool {
		return threadKeys[k] != nil && (bolt || known > 1 && !slices.Contains(bareKeys, k))
	})
	// the yield of a hub is not that of a bolt
	add("grade", func(k string) bool { return ofBolt && gradeKeys[k] != nil })
	add("lubricant", func(k string) bool { return lubricantKeys[k] != nil })
	add("lubricant_found", func(k string) bool { return foundKeys[k] != nil })
	if slices.Contains(out, "grade") && !slices.Contains(out, "thread") {
		out = append(out, "thread") // strength depends on size
	}
	return out
}

// bareKeys alone do not mean that an input is a bolt's: gaskets and rings have them too.
var bareKeys = []string{"outer_mm", "hole_mm", "diameter_mm"}

// lookUp fills the inputs that nobody gave.
func (c *Calculation) lookUp(looks map[string]string, out map[string]any, cards []fastener.Lubricant, r *Result) error {
	put := func(key string, v float64, source string) {
		if _, given := out[key]; given || v == 0 || !hasKey(c.Inputs, key) {
			return
		}
		out[key] = v
		r.Looked = append(r.Looked, Looked{key, v, source})
	}
	var t thread
	if looks["thread"] != "" {
		var err error
		if t, err = readThread(looks["thread"]); err != nil {
			return err
		}
		tables := "ISO 724, ISO 4014, ISO 273"
		if t.thread.System == fastener.UN {
			tables = "ASME B1.1, ASME B18.2"
		}
		for _, f := range c.Inputs {
			if v := threadKeys[f.Key]; v != nil {
				source := "thread " + t.thread.Text + ", " + tables
				if t.estimated && (f.Key == "bearing_mean_mm" || f.Key == "outer_mm") {
					source = "estimated from the size over the flats of " + t.thread.Text +
						": measure the part when it matters"
				}
				put(f.Key, v(t), source)
			}
		}
		if hasKey(c.Inputs, "system") {
			if _, given := out["system"]; !given {
				out["system"] = string(t.thread.System)
			}
			if t.thread.System == fastener.ISO { // the inch measures are not asked
				delete(out, "diameter_in")
				delete(out, "tpi")
			} else {
				delete(out, "diameter_mm")
				delete(out, "pitch_mm")
			}
		}
	}
	if g := strings.TrimSpace(looks["grade"]); g != "" {
		if t.geo.D == 0 {
			return quantity.Refuse("thread", "Enter the thread as well.",
				"is needed: the strength of %s depends on the size", g)
		}
		s, err := fastener.MaterialStrength(t.thread.System, g, quantity.Length(t.geo.D))
		if err != nil {
			return err
		}
		for _, f := range c.Inputs {
			if v := gradeKeys[f.Key]; v != nil {
				put(f.Key, v(s), "grade "+s.Grade+", "+s.Source)
			}
		}
	}
	for name, keys := range map[string]map[string]func(fastener.Lubricant) float64{"lubricant": lubricantKeys,
		"lubricant_found": foundKeys} {
		if looks[name] == "" {
			continue
		}
		l, err := card(looks[name], cards)
		if err != nil {
			return err
		}
		for _, f := range c.Inputs {
			if v := keys[f.Key]; v != nil {
				put(f.Key, v(l), l.Provenance())
			}
		}
	}
	return nil
}

// card finds a lubricant by code or name, the site's own first.
func card(text string, cards []fastener.Lubricant) (fastener.Lubricant, error) {
	for _, l := range append(slices.Clone(cards), fastener.Lubricants()...) {
		if strings.EqualFold(l.Code, strings.TrimSpace(text)) || strings.EqualFold(l.Name, strings.TrimSpace(text)) {
			return l, nil
		}
	}
	return fastener.Lubricant{}, quantity.Refuse("lubricant", "Choose a card from the lubricant library.",
		"%q is not a known lubricant", text)
}
