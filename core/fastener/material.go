package fastener

import (
	"strings"

	"dynacor/core/quantity"
)

// Strength is the minimum strength of a bolt material at room temperature, in MPa. Proof is 0 where the standard states
// none.
type Strength struct {
	Grade   string  `json:"grade"`
	System  System  `json:"system"`
	Yield   float64 `json:"yieldMPa"`
	Tensile float64 `json:"tensileMPa"`
	Proof   float64 `json:"proofMPa,omitempty"`
	MaxMM   float64 `json:"maxMm"` // largest diameter the row holds for
	Source  string  `json:"source"`
	Version int     `json:"version,omitempty"` // of the site's own value; 0: built in
}

type gradeRow struct{ maxD, yield, tensile, proof float64 }

const ksi = 6.894757293168361

// Rows in rising size; iso in mm and MPa, un in inches and ksi.
var gradesISO = map[string][]gradeRow{
	"4.6": {{39, 240, 400, 225}}, "4.8": {{39, 340, 420, 310}}, "5.6": {{39, 300, 500, 280}},
	"5.8": {{39, 420, 520, 380}}, "6.8": {{39, 480, 600, 440}},
	"8.8": {{16, 640, 800, 580}, {39, 660, 830, 600}}, "9.8": {{16, 720, 900, 650}}, "10.9": {{39, 940, 1040, 830}},
	"12.9":  {{39, 1100, 1220, 970}},
	"A2-50": {{39, 210, 500, 0}}, "A4-50": {{39, 210, 500, 0}}, "A2-70": {{24, 450, 700, 0}},
	"A4-70": {{24, 450, 700, 0}},
	"A2-80": {{24, 600, 800, 0}}, "A4-80": {{24, 600, 800, 0}},
	"B7": {{64, 720, 860, 0}, {100, 655, 795, 0}}, "B7M": {{100, 550, 690, 0}},
	"B16": {{64, 725, 860, 0}, {100, 655, 760, 0}}, "L7": {{64, 720, 860, 0}},
	"B8-1": {{100, 205, 515, 0}}, "B8-2": {{20, 690, 860, 0}, {24, 550, 795, 0}, {30, 450, 725, 0}, {36, 345, 690, 0}},
}
var gradesUN = map[string][]gradeRow{
	"B7": {{2.5, 105, 125, 0}, {4, 95, 115, 0}}, "B7M": {{4, 80, 100, 0}}, "B16": {{2.5, 105, 125, 0}, {4, 95, 110, 0}},
	"L7":   {{2.5, 105, 125, 0}},
	"B8-1": {{4, 30, 75, 0}}, "B8-2": {{.75, 100, 125, 0}, {1, 80, 115, 0}, {1.25, 65, 105, 0}, {1.5, 50, 100, 0}},
	"SAE2": {{.75, 57, 74, 55}, {1.5, 36, 60, 33}}, "SAE5": {{1, 92, 120, 85}, {1.5, 81, 105, 74}},
	"SAE8": {{1.5, 130, 150, 120}},
	"A325": {{1.5, 92, 120, 85}}, "A490": {{1.5, 130, 150, 120}},
}
var gradeOrder = []string{"4.6", "4.8", "5.6", "5.8", "6.8", "8.8", "9.8", "10.9", "12.9", "A2-50", "A2-70", "A2-80",
	"A4-50", "A4-70", "A4-80",
	"B7", "B7M", "B16", "L7", "B8-1", "B8-2", "SAE2", "SAE5", "SAE8", "A325", "A490"}

func gradeSource(grade string) string {
	switch {
	case strings.HasPrefix(grade, "A2") || strings.HasPrefix(grade, "A4-"):
		return "ISO 3506-1"
	case strings.HasPrefix(grade, "SAE"):
		return "SAE J429"
	case grade == "A325" || grade == "A490":
		return "ASTM F3125"
	case grade == "L7":
		return "ASTM A320"
	case strings.HasPrefix(grade, "B"):
		return "ASTM A193/A193M"
	}
	return "ISO 898-1"
}

// MaterialStrength gives the minimum strength of a grade at a nominal diameter in mm. It refuses unknown grades, grades
// of the other system and sizes the table does not hold for: ask for the certificate value. Not to be used hot.
func MaterialStrength(system System, grade string, diameter quantity.Length) (Strength, error) {
	diameterMM := float64(diameter)
	table, size, scale, least := gradesISO, diameterMM, 1.0, 3.0
	if system == UN {
		table, size, scale = gradesUN, diameterMM/mmPerInch, ksi
		least = 0
		if strings.HasPrefix(grade, "SAE") {
			least = .25
		}
		if grade == "A325" || grade == "A490" {
			least = .5
		}
	}
	rows, ok := table[grade]
	if !ok {
		return Strength{}, quantity.Refuse("grade", "Choose a grade from the material table.",
			"%q is not a grade of %s bolts", grade, system)
	}
	if err := quantity.Positive("diameter", diameterMM); err != nil {
		return Strength{}, err
	}
	for _, r := range rows {
		if size <= r.maxD+1e-9 && size >= least-1e-9 {
			s := Strength{Grade: grade, System: system, Yield: r.yield * scale, Tensile: r.tensile * scale,
				Proof: r.proof * scale, MaxMM: r.maxD, Source: gradeSource(grade)}
			if system == UN {
				s.MaxMM = r.maxD * mmPerInch
			}
			return s, nil
		}
	}
	return Strength{}, quantity.Refuse("diameter", "Ask for the value on the material certificate.",
		"%s mm is outside the sizes listed for %s", quantity.Text(diameterMM), grade)
}

// Materials lists every row of the material tables, iso first.
func Materials() []Strength {
	var out []Strength
	for _, system := range []System{ISO, UN} {
		for _, g := range gradeOrder {
			table, unit := gradesISO, 1.0
			if system == UN {
				table, unit = gradesUN, mmPerInch
			}
			for _, r := range table[g] {
				if s, err := MaterialStrength(system, g, quantity.Length(r.maxD*unit)); err == nil {
					out = append(out, s)
				}
			}
		}
	}
	return out
}
