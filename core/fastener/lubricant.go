package fastener

import (
	"math"

	"dynacor/core/quantity"
)

// Band is a low, typical and high value.
type Band struct {
	Low  float64 `json:"low"`
	Typ  float64 `json:"typ"`
	High float64 `json:"high"`
}

// Lubricant is a card: the condition of thread and bearing face and the friction that comes with it. The built-in cards
// are engineering ranges for orientation; a tested or measured value always takes precedence.
type Lubricant struct {
	Code                string   `json:"code"` // condition name of a built-in card, or the site's own code
	Name                string   `json:"name"`
	Condition           string   `json:"condition"` // the built-in condition it is a case of
	MuThread            Band     `json:"muThread"`
	MuHead              Band     `json:"muHead"`
	K                   Band     `json:"k"`
	NotForTorqueControl bool     `json:"notForTorqueControl,omitempty"`
	Source              KSource  `json:"source"`
	Note                string   `json:"note,omitempty"`
	Methods             []string `json:"methods,omitempty"` // permitted ways of applying it
	Suits               []string `json:"suits,omitempty"`   // service classes it is documented for
	Version             int      `json:"version,omitempty"` // of the site's own card; 0: built in
}

type frictionRow struct {
	code, name string
	t, h       Band
	not        bool
	note       string
}

var friction = []frictionRow{
	{"dry_as_received", "Dry, as received", Band{.12, .16, .24}, Band{.12, .17, .26}, false,
		"Thin mill oil unknown; wide band."},
	{"dry_zinc_plated", "Dry, zinc plated", Band{.12, .18, .26}, Band{.12, .18, .26}, false, "Depends on the sealer."},
	{"light_oil", "Light oil", Band{.10, .14, .18}, Band{.10, .14, .18}, false, "Thread and face oiled."},
	{"moly_paste", "Moly paste", Band{.06, .09, .12}, Band{.06, .09, .12}, false,
		"Molybdenum disulphide; over-stress risk at torques meant for oil."},
	{"nickel_antiseize", "Nickel anti-seize", Band{.09, .12, .16}, Band{.09, .12, .16}, false, ""},
	{"copper_antiseize", "Copper anti-seize", Band{.08, .11, .15}, Band{.08, .11, .15}, false, ""},
	{"food_grade_white", "Food-grade white paste", Band{.09, .12, .17}, Band{.09, .12, .17}, false, ""},
	{"ptfe_coating", "PTFE coating", Band{.06, .09, .14}, Band{.06, .09, .14}, false, "A worn coating rises."},
	{"waxed", "Waxed", Band{.06, .10, .14}, Band{.06, .10, .14}, false, ""},
	{"hdg_dry", "Hot-dip galvanised, dry", Band{.16, .24, .38}, Band{.16, .24, .38}, true, "Not for torque control."},
	{"hdg_lubricated", "Hot-dip galvanised, lubricated", Band{.09, .13, .18}, Band{.09, .13, .18}, false, ""},
	{"stainless_dry", "Stainless, dry", Band{.20, .32, .50}, Band{.18, .30, .50}, true,
		"Galling; not for torque control."},
	{"stainless_antiseize", "Stainless, anti-seize", Band{.09, .13, .18}, Band{.09, .13, .18}, false, ""},
	{"threadlocker_wet", "Threadlocker, wet", Band{.10, .15, .22}, Band{.10, .15, .22}, false,
		"Depends on the product; tighten before it sets."},
}

// suits: the service classes that the very name of a built-in condition stands for.
var suits = map[string][]string{"food_grade_white": {"food"}}

// K of a friction pair on the reference geometry M20: the lever sum of the friction formula over d, to 0.01.
func referenceK(muThread, muHead float64) float64 {
	const d, p = 20.0, 2.5
	d2 := d - 3*math.Sqrt(3)/8*p
	dm := (28.19 + 22) / 2
	sum := p/(2*math.Pi) + muThread*d2/(2*math.Cos(math.Pi/6)) + muHead*dm/2
	return math.Floor(sum/d*100+0.5+1e-9) / 100
}

// Lubricants lists the built-in cards.
func Lubricants() []Lubricant {
	out := make([]Lubricant, 0, len(friction))
	for _, f := range friction {
		out = append(out, Lubricant{Code: f.code, Name: f.name, Condition: f.code, MuThread: f.t, MuHead: f.h,
			K: Band{referenceK(f.t.Low, f.h.Low), referenceK(f.t.Typ, f.h.Typ),
				referenceK(f.t.High, f.h.High)},
			NotForTorqueControl: f.not, Source: KLibrary, Note: f.note, Suits: suits[f.code]})
	}
	return out
}

// LubricantCondition gives the built-in card of a condition. Refused: unknown condition.
func LubricantCondition(code string) (Lubricant, error) {
	for _, l := range Lubricants() {
		if l.Code == code {
			return l, nil
		}
	}
	return Lubricant{}, quantity.Refuse("lubricant", "Choose a card from the lubricant library.",
		"%q is not a known condition", code)
}

// KSource says whose nut factor is used.
type KSource string

// The order of authority: the maker's tested value, one measured on site, one laid down by the project, the built-in
// library.
const (
	KMaker   KSource = "maker_tested"
	KSite    KSource = "site_measured"
	KProject KSource = "project_specified"
	KLibrary KSource = "library"
)

// Text names the source on a working or certificate.
func (s KSource) Text() string {
	switch s {
	case KMaker:
		return "tested by its maker for this fastener"
	case KSite:
		return "measured on site"
	case KProject:
		return "laid down by the project"
	}
	return "built-in typical value, confirm by test"
}

// KValue is a nut factor somebody tested, measured or laid down; SpreadPct 0 means the usual spread of its source
// (10, 10, 20 %).
type KValue struct {
	Source    KSource
	K         float64
	SpreadPct float64
}

// ChooseNutFactor takes the first of the given values in the order of authority, else the built-in condition.
// Refused: nothing usable, a K outside 0.05…0.6, a spread outside 0…<80 %.
func ChooseNutFactor(given []KValue, condition string) (KSource, Band, error) {
	for _, src := range []KSource{KMaker, KSite, KProject} {
		for _, v := range given {
			if v.Source != src {
				continue
			}
			if err := quantity.Between("K", v.K, 0.05, 0.6); err != nil {
				return "", Band{}, err
			}
			s := v.SpreadPct
			if s == 0 {
				s = 10
				if src == KProject {
					s = 20
				}
			}
			if s < 0 || s >= 80 {
				return "", Band{}, quantity.Refuse("spread", "Enter the measured spread in percent.",
					"%s %% is outside 0 to 80 %%", quantity.Text(s))
			}
			return src, Band{v.K * (1 - s/100), v.K, v.K * (1 + s/100)}, nil
		}
	}
	l, err := LubricantCondition(condition)
	if err != nil {
		return "", Band{}, err
	}
	return KLibrary, l.K, nil
}
