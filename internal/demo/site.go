package demo

import "dynacor/internal/app"

// site is the made-up tidal station, from the sea to the land.
func site() app.Site {
	return app.Site{Name: "Tarn Skerry Tidal Station", Prefix: "TS", TimeZone: "Europe/London", Line: "sea to land",
		Areas: []app.SiteArea{{Name: "1 Intake screens", Drawing: "intake"}, {Name: "2 Turbine 2", Drawing: "rotor"},
			{Name: "3 Gearbox hall", Drawing: "gearbox"}, {Name: "4 Cooling house", Drawing: "pumps"},
			{Name: "5 Gate 3", Drawing: "gate"}}}
}
