package calc

import ()

type mismatchIn struct {
	Torque   float64  `in:"torque_Nm" sym:"T" label:"Torque at the nut" ok:">0" eg:"410"`
	Diameter float64  `in:"diameter_mm" sym:"d" label:"Thread diameter" ok:">0" eg:"27"`
	Assumed  float64  `in:"K_assumed" sym:"K1" label:"Nut factor planned" ok:"0.05..0.6" eg:"0.2"`
	Actual   float64  `in:"K_actual" sym:"K2" label:"Nut factor of what was found" ok:"0.05..0.6" eg:"0.15"`
	Limit    *float64 `in:"limit_kN" label:"Bolt takes" ok:">0" eg:""`
}

type scatterIn struct {
	Preload float64  `in:"preload_kN" sym:"F" label:"Load wanted" ok:">0" eg:"100"`
	Method  string   `in:"method" label:"Method" one:"torque_unlubricated torque_plated torque_lubricated hydraulic_tension load_indicating_washer ultrasonic elongation instrumented_bolt angle_or_yield impact_uncontrolled" opt:"true" eg:"torque_lubricated"`
	Spread  *float64 `in:"spread_pct" label:"Or the spread measured on site" ok:">=0,<100" eg:""`
}
type scatterOut struct {
	Min    float64 `out:"preload_min_kN" sym:"Fmin" label:"Least load"`
	Max    float64 `out:"preload_max_kN" sym:"Fmax" label:"Greatest load"`
	Spread float64 `out:"spread_pct" label:"Half-width"`
	Alpha  float64 `out:"alpha_A" sym:"αA" label:"Greatest over least"`
}

type bandIn struct {
	Torque   float64  `in:"torque_Nm" sym:"T" label:"Torque at the nut" ok:">0" eg:"410"`
	Diameter float64  `in:"diameter_mm" sym:"d" label:"Thread diameter" ok:">0" eg:"27"`
	KLow     float64  `in:"K_low" sym:"Kl" label:"Nut factor, low" ok:"0.05..0.6" eg:"0.12"`
	KTyp     float64  `in:"K_typ" sym:"Kt" label:"Nut factor, typical" ok:"0.05..0.6" eg:"0.16"`
	KHigh    float64  `in:"K_high" sym:"Kh" label:"Nut factor, high" ok:"0.05..0.6" eg:"0.21"`
	Accuracy float64  `in:"torque_accuracy_pct" sym:"x" label:"Accuracy of the tool" ok:">=0,<100" eg:"4"`
	Area     *float64 `in:"stress_area_mm2" sym:"As" label:"Stress area" help:"With the yield, to see how near the band comes to it." ok:">0" eg:"459"`
	Yield    *float64 `in:"yield_MPa" sym:"Re" label:"Yield of the bolt" ok:">0" eg:"660"`
}
type bandOut struct {
	Typ   float64  `out:"preload_typ_kN" sym:"F" label:"Load, typical"`
	Min   float64  `out:"preload_min_kN" sym:"Fmin" label:"Least load"`
	Max   float64  `out:"preload_max_kN" sym:"Fmax" label:"Greatest load"`
	Alpha float64  `out:"alpha_A" sym:"αA" label:"Greatest over least"`
	Yield *float64 `out:"yield_load_kN" sym:"Fy" label:"Load at yield"`
	Most  *float64 `out:"max_pct_yield" sym:"qy" label:"Greatest load, percent of yield"`
}

type lubricantIn struct {
	Condition string `in:"condition" label:"Condition" one:"dry_as_received dry_zinc_plated light_oil moly_paste nickel_antiseize copper_antiseize food_grade_white ptfe_coating waxed hdg_dry hdg_lubricated stainless_dry stainless_antiseize threadlocker_wet" eg:"light_oil"`
}
type lubricantOut struct {
	KTyp       float64 `out:"K_typ" sym:"K" label:"Nut factor, typical"`
	KLow       float64 `out:"K_low" sym:"Kl" label:"low"`
	KHigh      float64 `out:"K_high" sym:"Kh" label:"high"`
	ThreadLow  float64 `out:"mu_thread_low" label:"Thread friction, low"`
	ThreadTyp  float64 `out:"mu_thread_typ" label:"Thread friction, typical"`
	ThreadHigh float64 `out:"mu_thread_high" label:"Thread friction, high"`
	HeadLow    float64 `out:"mu_head_low" label:"Face friction, low"`
	HeadTyp    float64 `out:"mu_head_typ" label:"Face friction, typical"`
	HeadHigh   float64 `out:"mu_head_high" label:"Face friction, high"`
	Not        bool    `out:"not_for_torque_control" label:"Not for torque control"`
}

type chooseIn struct {
	Maker         *float64 `in:"maker_tested_K" label:"Nut factor tested by its maker" ok:"0.05..0.6" eg:"0.14"`
	MakerSpread   *float64 `in:"maker_tested_spread_pct" label:"its spread" ok:">=0,<80" eg:""`
	Site          *float64 `in:"site_measured_K" label:"Measured on site" ok:"0.05..0.6" eg:""`
	SiteSpread    *float64 `in:"site_measured_spread_pct" label:"its spread" ok:">=0,<80" eg:""`
	Project       *float64 `in:"project_specified_K" label:"Laid down by the project" ok:"0.05..0.6" eg:""`
	ProjectSpread *float64 `in:"project_specified_spread_pct" label:"its spread" ok:">=0,<80" eg:""`
	Condition     string   `in:"condition" label:"Otherwise the condition" opt:"true" one:"dry_as_received dry_zinc_plated light_oil moly_paste nickel_antiseize copper_antiseize food_grade_white ptfe_coating waxed hdg_dry hdg_lubricated stainless_dry stainless_antiseize threadlocker_wet" eg:"nickel_antiseize"`
}
type chooseOut struct {
	K      float64 `out:"K" sym:"K" label:"Nut factor to use"`
	Low    float64 `out:"K_low" sym:"Kl" label:"low"`
	High   float64 `out:"K_high" sym:"Kh" label:"high"`
	Source string  `out:"source" label:"It is"`
}
