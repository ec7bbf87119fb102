package demo

import (
	"context"
	"fmt"
	"time"

	"github.com/google/uuid"

	"dynacor/core/pressuretest"
	"dynacor/internal/app"
)

// tests lays out two tests under pressure: one with water that is in its hold, one with air that waits.
func tests(ctx context.Context, a *app.App, crew map[string]app.Actor, now time.Time) error {
	water := pressuretest.Spec{Tag: "LT-07", Title: "Cooler drain and strainer, unit 2", Kind: pressuretest.Hydrostatic,
		Joints: []string{"SW-111", "SW-112", "SW-117"}, Procedure: "TP-12 rev. B", Medium: "fresh water", DesignBar: 16,
		TestBar: 24, MostBar: 25.5, LossBar: .2, BarPerC: 1.14, Gauge: pressuretest.Gauge{Tag: "PG-11"}}
	var err error
	if water.Steps, err = pressuretest.Usual(water.Kind, water.DesignBar, water.TestBar, 30); err != nil {
		return err
	}
	air := pressuretest.Spec{Tag: "LT-08", Title: "Sealing air of the shaft, unit 1", Kind: pressuretest.Pneumatic,
		Joints: []string{"SW-118", "SW-119"}, Procedure: "TP-15 rev. A", Medium: "air", DesignBar: 4, TestBar: 4.4,
		MostBar: 4.8, LossBar: .1, VolumeM3: .32, ZoneM: 14, Gauge: pressuretest.Gauge{Tag: "PG-4"},
		Barriers: []string{"door of the cooling house, north", "rope at the stairs to the gallery"}}
	if air.Steps, err = pressuretest.Usual(air.Kind, air.DesignBar, air.TestBar, 10); err != nil {
		return err
	}
	for _, s := range []pressuretest.Spec{water, air} {
		if _, err := a.PutPressureTest(ctx, crew["J. Hartwell"], s, 0, ""); err != nil {
			return fmt.Errorf("demo test %s: %w", s.Tag, err)
		}
	}
	var events []pressuretest.Event
	at := now.Add(-38 * time.Minute)
	put := func(after time.Duration, e pressuretest.Event) {
		at = at.Add(after)
		e.At, e.ID = at, uuid.Must(uuid.NewV7()).String()
		events = append(events, e)
	}
	for _, g := range water.Gates() {
		put(time.Minute/2, pressuretest.Event{Kind: pressuretest.Confirmed, Gate: g.Code})
	}
	read := func(after time.Duration, bar, temp string) {
		put(after, pressuretest.Event{Kind: pressuretest.Read, BarAs: bar, TempAs: temp})
	}
	read(time.Minute, "0", "12.2")
	read(2*time.Minute, "6", "12.2")
	read(2*time.Minute, "12", "12.1")
	for _, tag := range water.Joints {
		put(2*time.Minute, pressuretest.Event{Kind: pressuretest.Looked, Joint: tag, Dry: true})
	}
	read(4*time.Minute, "12", "12.1")
	read(2*time.Minute, "18", "12.0")
	read(2*time.Minute, "24", "12.0")
	read(7*time.Minute, "23.74", "11.8")
	for _, e := range events {
		if _, err := a.RecordTest(ctx, crew["M. Tolley"], water.Tag, e); err != nil {
			return fmt.Errorf("demo test %s: %w", water.Tag, err)
		}
	}
	return nil
}
