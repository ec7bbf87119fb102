package e2e

import (
	"testing"

	"dynacor/core/procedure"
	"dynacor/core/run"
)

// The pre-charge of an accumulator is judged at the temperature of its gas: the page says what to fill to, refuses the
// figure of a warm day on a cold one, and shows how it came to its verdict.
func TestPrechargeIsFilledAtItsTemperature(t *testing.T) {
	t.Parallel()
	s := newSite(t, true)
	h := s.hand(t, "M. Tolley", "tablet")
	h.begin("AC-03")
	h.clear(procedure.Ready, "")
	h.pullTo("never", "")
	h.clear(procedure.Prove, "temperature")
	p := open(t, s.URL+"/joints/AC-03", 390, 844)
	p.signIn("M. Tolley", "4071")
	p.find("any", "Gas temperature")
	p.fill("shell", "0")
	p.press("button", "Keep the readings")
	p.find(".at-temp", "At 0 °C that is 81 to 86.58 bar")
	p.shot("precharge")
	p.fill("gas pressure", "90")
	p.press("button", "Keep the readings")
	p.find("any", "90 bar, 96.66 bar at 20 °C; 87 to 93 bar at 20 °C")
	p.find("[data-testid=working]", "ideal gas, constant volume")
	p.shot("precharge-over")
	p.eventually("it is stopped", func() bool { return h.status("precharge") == run.CheckStopped })
	p.fill("gas pressure", "83.5")
	p.press("button", "Keep the readings")
	p.eventually("it is met", func() bool { return h.status("precharge") == run.CheckCleared })
}
