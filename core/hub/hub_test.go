package hub_test

import (
	"math"
	"testing"

	"github.com/stretchr/testify/require"

	"dynacor/core/hub"
	"dynacor/core/quantity"
)

func lock() hub.LockInput {
	return hub.LockInput{Screws: 8, ScrewTorque: 30, NutFactor: .16, ScrewDiameter: 8, HalfAngle: 5, MuTaper: .1,
		Shaft: 60, ShaftLength: 30, MuShaft: .12, HubBore: 90, HubLength: 30, Required: 1500}
}

// The wedge by its faces: the taper is pushed by N along its normal and µN along it; both give the axial push and the
// radial force.
func TestLockAgreesWithTheWedgeByItsFaces(t *testing.T) {
	in := lock()
	r, err := hub.ShaftLock(nil, in)
	require.NoError(t, err)
	b := in.HalfAngle * math.Pi / 180
	n := r.AxialForce / (math.Sin(b) + in.MuTaper*math.Cos(b))
	require.InEpsilon(t, n*(math.Cos(b)-in.MuTaper*math.Sin(b)), r.Radial, 1e-9)
	require.InEpsilon(t, r.Radial, r.ShaftPressure*math.Pi*in.Shaft*in.ShaftLength, 1e-12)
	require.InEpsilon(t, r.TorqueOnly, r.Torque, 1e-12, "without axial load")
	require.True(t, r.SelfLocking)
	in.MuTaper = .05
	free, err := hub.ShaftLock(nil, in)
	require.NoError(t, err)
	require.False(t, free.SelfLocking)
	require.Greater(t, free.Torque, r.Torque, "less friction on the taper presses harder")
	in.Axial = .6 * free.AxialOnly
	both, err := hub.ShaftLock(nil, in)
	require.NoError(t, err)
	require.InEpsilon(t, .8*both.TorqueOnly, both.Torque, 1e-9, "friction is shared as 3, 4 and 5")
	in.Axial = both.AxialOnly
	_, err = hub.ShaftLock(nil, in)
	_, ok := quantity.RefusalIn(err)
	require.True(t, ok)
}

// Lamé at twice the bore: five thirds of the pressure. At the least outside diameter the hoop stress is the yield.
func TestHubAgreesWithThickCylinder(t *testing.T) {
	r, err := hub.Check(nil, hub.CheckInput{Pressure: 90, Bore: 100, Outer: 200, Yield: 350, Shape: 1})
	require.NoError(t, err)
	require.InEpsilon(t, 150, r.Hoop, 1e-12)
	require.True(t, r.OK)
	at, err := hub.Check(nil, hub.CheckInput{Pressure: 90, Bore: 100, Outer: r.MinOuter, Yield: 350, Shape: 1})
	require.NoError(t, err)
	require.InEpsilon(t, 350, at.Hoop, 1e-9)
	require.True(t, at.OK)
	for field, in := range map[string]hub.CheckInput{"outer_mm": {Pressure: 90, Bore: 100, Outer: 90, Yield: 350,
		Shape: 1}, "pressure_MPa": {Pressure: 400, Bore: 100, Outer: 300, Yield: 350, Shape: 1}} {
		_, err := hub.Check(nil, in)
		r, ok := quantity.RefusalIn(err)
		require.True(t, ok)
		require.Equal(t, field, r.Field)
	}
}

func TestLockIsTightenedAroundAndNeverAcross(t *testing.T) {
	p, err := hub.Plan(nil, hub.PlanInput{Screws: 6, Target: 30, Increments: 3, Start: 5})
	require.NoError(t, err)
	require.Equal(t, []int{5, 6, 1, 2, 3, 4}, p.Order)
	require.Equal(t, []float64{10, 20, 30}, p.Rounds)
	require.Equal(t, 4, p.From)
	require.Equal(t, 24, p.Pulls)
	_, err = hub.Plan(nil, hub.PlanInput{Screws: 6, Target: 30, Increments: 3, Start: 7})
	require.Error(t, err)
}

// Half angle of a taper 1:12 is 2.3859°, and the drive-on is the diameter change times the taper.
func TestTaperDrift(t *testing.T) {
	pitch := 2.0
	r, err := hub.TaperBushDrift(nil, hub.DriftInput{Taper: 12, Clearance: .05, Interference: .1, Pitch: &pitch,
		Deform: 1.5})
	require.NoError(t, err)
	require.InDelta(t, 2.3859, r.HalfAngle, 5e-5)
	require.InDelta(t, 12*(.05+.15), r.Drift, 1e-12)
	require.InDelta(t, r.Drift/2, *r.Turns, 1e-12)
}
