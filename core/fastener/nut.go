package fastener

import (
	"math"

	"dynacor/core/quantity"
	"dynacor/core/working"
)

// HexFamily is a series of hexagon sizes.
type HexFamily string

// The hexagon families.
const (
	HexISO        HexFamily = "iso"
	HexStructural HexFamily = "iso_structural"
	HexOldMetric  HexFamily = "old_metric"
	HexUNRegular  HexFamily = "un_regular"
	HexUNHeavy    HexFamily = "un_heavy"
)

// Hex is a hexagon's size over the flats and the outer diameter of its bearing face, in mm.
type Hex struct {
	AcrossFlatsMM  float64
	BearingOuterMM float64
	FromTable      bool // false: the bearing diameter is an estimate; measure the part when it matters
}

// ISO 272 across flats by diameter; the old metric and structural sizes list only where they differ.
var hexISO = map[float64]float64{3: 5.5, 4: 7, 5: 8, 6: 10, 7: 11, 8: 13, 10: 16, 12: 18, 14: 21, 16: 24, 18: 27,
	20: 30, 22: 34, 24: 36, 27: 41, 30: 46,
	33: 50, 36: 55, 39: 60, 42: 65, 45: 70, 48: 75, 52: 80, 56: 85, 60: 90, 64: 95, 68: 100, 72: 105, 76: 110, 80: 115,
	90: 130, 100: 145}
var hexOld = map[float64]float64{10: 17, 12: 19, 14: 22, 22: 32}
var hexStructural = map[float64]float64{12: 22, 16: 27, 20: 32, 22: 36, 24: 41, 27: 46, 30: 50, 36: 60}
var hexUN = map[float64]float64{.25: 7.0 / 16, .3125: .5, .375: 9.0 / 16, .4375: 5.0 / 8, .5625: 13.0 / 16}

// ISO 4014 minimum washer-face diameters (grade A to M24, grade B above).
var washerFace = map[float64]float64{3: 4.57, 4: 5.88, 5: 6.88, 6: 8.88, 8: 11.63, 10: 14.63, 12: 16.63, 16: 22.49,
	20: 28.19, 24: 33.61,
	30: 42.75, 36: 51.11, 42: 59.95, 48: 69.45, 56: 78.66, 64: 88.16}

// HexSize gives the hexagon of a family for a nominal diameter in mm. Sizes that are not listed are refused.
// Source: ISO 272, ISO 4014, EN 14399-4, ASME B18.2.1/B18.2.2.
func HexSize(family HexFamily, diameter quantity.Length) (Hex, error) {
	diameterMM := float64(diameter)
	none := quantity.Refuse("diameter", "Enter the measured size over the flats.", "%s mm is not a listed size of %s",
		quantity.Text(diameterMM), family)
	switch family {
	case HexISO, HexOldMetric, HexStructural:
		s := hexISO[diameterMM]
		if family == HexOldMetric && hexOld[diameterMM] > 0 {
			s = hexOld[diameterMM]
		}
		if family == HexStructural {
			s = hexStructural[diameterMM]
		}
		if s == 0 {
			return Hex{}, none
		}
		if b := washerFace[diameterMM]; b > 0 && family == HexISO {
			return Hex{s, b, true}, nil
		}
		return Hex{s, 0.93 * s, false}, nil
	case HexUNRegular, HexUNHeavy:
		d := math.Round(diameterMM/mmPerInch*10000) / 10000
		if unc[d] == 0 && !(d > 1 && d <= 4 && math.Mod(d, .125) == 0) {
			return Hex{}, none
		}
		s := 1.5 * d
		if v := hexUN[d]; v > 0 {
			s = v
		}
		if family == HexUNHeavy {
			if d < .5 || d == .5625 {
				return Hex{}, none
			}
			s = 1.5*d + .125
		}
		return Hex{s * mmPerInch, 0.95 * s * mmPerInch, false}, nil
	}
	return Hex{}, quantity.Refuse("family", "Choose a listed family of hexagons.", "%q is not known", string(family))
}

// ISO 273 clearance holes by diameter: fine, medium, coarse (mm).
var clearance = map[float64][3]float64{3: {3.2, 3.4, 3.6}, 4: {4.3, 4.5, 4.8}, 5: {5.3, 5.5, 5.8}, 6: {6.4, 6.6, 7},
	8: {8.4, 9, 10}, 10: {10.5, 11, 12},
	12: {13, 13.5, 14.5}, 14: {15, 15.5, 16.5}, 16: {17, 17.5, 18.5}, 18: {19, 20, 21}, 20: {21, 22, 24},
	22: {23, 24, 26}, 24: {25, 26, 28}, 27: {28, 30, 32},
	30: {31, 33, 35}, 33: {34, 36, 38}, 36: {37, 39, 42}, 39: {40, 42, 45}, 42: {43, 45, 48}, 45: {46, 48, 52},
	48: {50, 52, 56}, 52: {54, 56, 62},
	56: {58, 62, 66}, 60: {62, 66, 70}, 64: {66, 70, 74}, 68: {70, 74, 78}, 72: {74, 78, 82}, 76: {78, 82, 86},
	80: {82, 86, 91}, 85: {87, 91, 96},
	90: {93, 96, 101}, 95: {98, 101, 107}, 100: {104, 107, 112}}

// ClearanceHole gives the hole diameter in mm for series fine, medium or coarse (ISO 273, diameter in mm), inch_flange
// or inch_structural (diameter in mm of a whole inch size). Sizes that are not listed are refused.
func ClearanceHole(series string, diameter quantity.Length) (quantity.Length, error) {
	diameterMM := float64(diameter)
	col, isMetric := map[string]int{"fine": 0, "medium": 1, "coarse": 2}[series]
	in := math.Round(diameterMM/mmPerInch*10000) / 10000
	switch {
	case isMetric:
		if row, ok := clearance[diameterMM]; ok {
			return quantity.Length(row[col]), nil
		}
	case series == "inch_flange":
		if in >= .5 && in <= 4 {
			return quantity.Length((in + .125) * mmPerInch), nil
		}
	case series == "inch_structural":
		if in >= .5 && in < 1 {
			return quantity.Length((in + .0625) * mmPerInch), nil
		}
		if in >= 1 && in <= 1.5 {
			return quantity.Length((in + .125) * mmPerInch), nil
		}
	default:
		return 0, quantity.Refuse("series", "Choose fine, medium, coarse, inch_flange or inch_structural.",
			"%q is not known", series)
	}
	return 0, quantity.Refuse("diameter", "Enter the measured hole.", "%s mm is not listed for %s holes",
		quantity.Text(diameterMM), series)
}

// Bearing is the ring under a nut or head: mean and effective friction diameters in mm, area in mm².
type Bearing struct{ Mean, Effective, Area float64 }

// BearingGeometry gives the ring between hole and outer diameter (mm). The mean diameter is used for torque throughout
// (ISO 16047); the effective one, for uniform pressure, is for information. Refused: outer not above hole.
func BearingGeometry(w *working.Working, outerFace, clearance quantity.Length) (Bearing, error) {
	outer, hole := float64(outerFace), float64(clearance)
	if err := quantity.Positive("outer", outer, "hole", hole); err != nil {
		return Bearing{}, err
	}
	if outer <= hole {
		return Bearing{}, quantity.Refuse("outer", "Check both diameters.", "%s mm is not above the hole of %s mm",
			quantity.Text(outer), quantity.Text(hole))
	}
	return Bearing{Mean: w.Step("Dm", "(o + h) / 2", (outer+hole)/2),
		Effective: w.Step("De", "2 / 3 · (o ^ 3 - h ^ 3) / (o ^ 2 - h ^ 2)",
			2.0/3*(outer*outer*outer-hole*hole*hole)/(outer*outer-hole*hole)),
		Area: w.Step("A", "π / 4 · (o ^ 2 - h ^ 2)", math.Pi/4*(outer*outer-hole*hole))}, nil
}

// Bearing gives the ring under a standard nut of this thread in a standard clearance hole.
func (t Thread) Bearing() (Bearing, error) {
	family, series := HexISO, "medium"
	if t.System == UN {
		family, series = HexUNHeavy, "inch_flange"
	}
	hex, err := HexSize(family, quantity.Length(t.DiameterMM))
	if err != nil {
		return Bearing{}, err
	}
	hole, err := ClearanceHole(series, quantity.Length(t.DiameterMM))
	if err != nil {
		return Bearing{}, err
	}
	return BearingGeometry(nil, quantity.Length(hex.BearingOuterMM), hole)
}
