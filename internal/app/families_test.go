package app_test

import (
	"bytes"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/stretchr/testify/require"

	"dynacor/core/coretest"
	"dynacor/core/fastener"
	"dynacor/core/plan"
	"dynacor/core/procedure"
	"dynacor/core/quantity"
	"dynacor/core/record"
	"dynacor/core/rehearsal"
	"dynacor/core/run"
	"dynacor/internal/app"
	"dynacor/internal/procedures"
	"dynacor/internal/report"
)

// crewman sends what a script lays out as a device does, and signs as people do.
type crewman struct {
	b    *bench
	who  app.Actor
	id   string
	s    *coretest.Script
	sent int
}

func (c *crewman) send(t *testing.T) {
	t.Helper()
	list := c.s.Events[c.sent:]
	for i := range list {
		list[i].ID = uuid.Must(uuid.NewV7()).String()
	}
	c.sent = len(c.s.Events)
	if len(list) == 0 {
		return
	}
	photos := rehearsal.Photos(list, func() string { return uuid.Must(uuid.NewV7()).String() })
	res, err := c.b.AppendEvents(ctx, c.who, c.id, list)
	require.NoError(t, err)
	for _, k := range res.Acks {
		require.Empty(t, k.Refused)
	}
	for _, id := range photos {
		require.NoError(t, c.b.PutPhoto(ctx, c.who, c.id, id, rehearsal.Picture()))
	}
}

func (c *crewman) sign(t *testing.T, name string, purpose run.Purpose, check string) {
	t.Helper()
	c.send(t)
	v, err := c.b.Sign(ctx, c.who, c.id, c.b.signature(t, name, c.id, purpose, check))
	require.NoError(t, err)
	c.s.Events = append(c.s.Events, v.Entries[len(v.Entries)-1].Event)
	c.sent = len(c.s.Events)
}

// checks answers every check of a list as it should be, with the second person's signature where it is a hold.
func (c *crewman) checks(t *testing.T, list []procedure.Check) {
	t.Helper()
	for _, k := range list {
		c.s.Add(c.s.Right(k))
		if k.Signed() {
			c.sign(t, "I. Quaye", run.SignHold, k.Code)
		}
	}
}

func (c *crewman) at(stop procedure.Station) []procedure.Check {
	var out []procedure.Check
	for _, k := range c.s.Plan.Checks {
		if k.Station == stop {
			out = append(out, k)
		}
	}
	return out
}

func (c *crewman) gates(t *testing.T) {
	t.Helper()
	for _, code := range c.s.State().Gates {
		for _, k := range c.s.Plan.Checks {
			if k.Code == code {
				c.checks(t, []procedure.Check{k})
			}
		}
	}
}

// work carries a joint from nothing to the closing signatures.
func (c *crewman) work(t *testing.T) *crewman {
	t.Helper()
	c.checks(t, c.at(procedure.Ready))
	for range 2000 {
		st := c.s.State()
		if len(st.Gates) > 0 {
			c.gates(t)
			continue
		}
		if st.Pass == 0 {
			break
		}
		c.s.Pull()
	}
	c.checks(t, c.at(procedure.Prove))
	c.checks(t, c.at(procedure.HandOver))
	c.send(t)
	return c
}

// closing signs what was done and what was proved.
func (c *crewman) closing(t *testing.T) *crewman {
	t.Helper()
	c.sign(t, "M. Tolley", run.SignTightened, "")
	c.sign(t, "R. Abara", run.SignProved, "")
	return c
}

// seal carries a joint from nothing to its sealed record.
func (c *crewman) seal(t *testing.T) string {
	t.Helper()
	v, err := c.work(t).closing(t).b.Seal(ctx, c.id)
	require.NoError(t, err)
	return v.Number
}

func (b *bench) begin(t *testing.T, tag string) *crewman {
	t.Helper()
	who := b.crew["M. Tolley"]
	v, err := b.WorkAgain(ctx, who, tag, plan.Choices{}, "", "taken apart")
	require.NoError(t, err, tag)
	c := &crewman{b: b, who: who, id: v.ID, s: coretest.NewScript(v.Plan), sent: 1}
	c.s.Person, c.s.At = who.Person, b.now.Add(-20*time.Hour)
	c.s.Events = append(c.s.Events, v.Entries[0].Event)
	return c
}

// The made-up site has a joint of every family; each is planned with its crib and led from start to a sealed record
// that verifies.
func TestEveryFamilyIsSealedAtTheDemoSite(t *testing.T) {
	b := newBench(t, true)
	page, err := b.Joints(ctx, app.JointQuery{Limit: 500})
	require.NoError(t, err)
	seen := map[string]bool{}
	for _, j := range page.Rows {
		d, err := b.Joint(ctx, j.Tag)
		require.NoError(t, err)
		require.Empty(t, d.PlanError, j.Tag)
		if j.Family == "gasketed_flange" || d.RunID != "" {
			seen[j.Family] = true
			continue
		}
		require.True(t, d.Plan.Complete(), "%s: %v %v", j.Tag, d.Plan.ToBeSupplied, d.Plan.Findings)
		require.NotEqual(t, "waiting", j.Glyph, "%s has all it needs and must not wait: %s", j.Tag, j.Summary)
		seen[j.Family] = true
		t.Run(j.Tag+" "+j.Family, func(t *testing.T) {
			number := b.begin(t, j.Tag).seal(t)
			require.NotEmpty(t, number)
			rec, err := b.RecordFile(ctx, number)
			require.NoError(t, err)
			res := record.Verify(rec, nil)
			require.Empty(t, res.Problems)
			view, err := b.Record(ctx, number)
			require.NoError(t, err)
			var pdf bytes.Buffer
			require.NoError(t,
				report.Certificate(&pdf, report.Sealed{Record: view.Record, Mark: view.Row.Mark, KeyID: view.KeyID,
					SealedAt: view.Row.SealedAt}))
			text := printed(t, pdf.Bytes())
			require.Contains(t, text, strings.Fields(d.Plan.FamilyName)[0])
			for _, g := range d.Plan.AllGroups() {
				if d.Plan.Several() {
					require.Contains(t, text, g.GroupName+": ", "each group has its own drawing and values")
				}
			}
		})
	}
	require.Len(t, seen, len(procedure.Builtin()))
	n, err := b.Numbers(ctx, app.NumbersQuery{Of: record.Angle, By: "family"})
	require.NoError(t, err)
	require.Positive(t, n.All.N, "what is tightened by turns is counted by them")
	require.Zero(t, n.All.Outside)
}

// printed is the text of a PDF as a reader finds it.
func printed(t *testing.T, pdf []byte) string {
	t.Helper()
	file := filepath.Join(t.TempDir(), "print.pdf")
	require.NoError(t, os.WriteFile(file, pdf, 0o600))
	out, err := exec.Command("pdftotext", "-layout", file, "-").Output()
	require.NoError(t, err)
	return strings.Join(strings.Fields(string(out)), " ")
}

// A version of the site's own is a draft until an engineer approves it; then plans are stale, and work that has begun
// goes on.
func TestProcedureOfTheSitesOwn(t *testing.T) {
	b := newBench(t, true)
	engineer, inspector := b.crew["J. Hartwell"], b.crew["R. Abara"]
	running := b.begin(t, "BT-09")
	f, err := procedure.ByCode("branch_tee")
	require.NoError(t, err)
	f.Checks = append([]procedure.Check{}, f.Checks...)
	f.Checks[0].Ask = "Helmet on, and the rest?"
	f.Checks = append(f.Checks, procedure.Check{Code: "own_look", Station: procedure.Prove, Row: "proof",
		Kind: procedure.Confirm, Title: "Foreman looked", Ask: "Has the foreman looked?", Why: "House custom."})
	text, err := procedures.Write(f)
	require.NoError(t, err)

	trial, err := b.TryProcedure(ctx, "branch_tee", app.ProcedureInput{YAML: string(text)})
	require.NoError(t, err)
	require.Empty(t, trial.Faults)
	require.NotEmpty(t, trial.Plan.Passes)
	require.Len(t, trial.Changes, 2)
	require.Equal(t, "checks.own_look", trial.Changes[1].Path)

	_, err = b.PutProcedure(ctx, inspector, "branch_tee", app.ProcedureInput{YAML: string(text)})
	problem(t, err, app.Invalid, "needs a reason")
	_, err = b.PutProcedure(ctx, inspector, "wheel_nuts", app.ProcedureInput{YAML: string(text), Reason: "custom"})
	problem(t, err, app.Invalid, "text is of branch_tee")
	bad := strings.Replace(string(text), "criterion: remain", "criterion: hope", 1)
	_, err = b.PutProcedure(ctx, inspector, "branch_tee", app.ProcedureInput{YAML: bad, Reason: "custom"})
	problem(t, err, app.Invalid, "criterion")

	d, err := b.PutProcedure(ctx, inspector, "branch_tee",
		app.ProcedureInput{YAML: string(text), Reason: "custom of the house"})
	require.NoError(t, err)
	require.Equal(t, 5, d.Family.Version)
	require.Len(t, d.Changes, 3, "the two changes, and where it was copied from")
	again, err := b.Procedure(ctx, "branch_tee", 0)
	require.NoError(t, err)
	require.Equal(t, 4, again.Family.Version, "a draft is not in force")
	d, err = b.ApproveProcedure(ctx, engineer, "branch_tee", 5)
	require.NoError(t, err)
	require.True(t, d.Versions[0].InForce)
	_, err = b.ApproveProcedure(ctx, engineer, "branch_tee", 4)
	problem(t, err, app.Conflict, "no draft")

	v, err := b.Run(ctx, running.id)
	require.NoError(t, err)
	require.Contains(t, v.PlanStale, "version 4 of the procedure; version 5 is in force")
	require.NotEmpty(t, running.seal(t), "work that has begun keeps the version it began with")
	next := b.begin(t, "BT-09")
	require.Equal(t, 5, next.s.Plan.ProcedureVersion)
	_, ok := procedure.Family{Checks: next.s.Plan.Checks}.Check("own_look")
	require.True(t, ok)
	list, err := b.Families(ctx)
	require.NoError(t, err)
	for _, r := range list {
		require.Equal(t, r.Code == "branch_tee", r.Site, r.Code)
	}
}

// A family of the site's own begins as a copy under a new code.
func TestFamilyOfTheSitesOwn(t *testing.T) {
	b := newBench(t, true)
	f, err := procedure.ByCode("wheel_nuts")
	require.NoError(t, err)
	f.Code, f.Name, f.Version = "winch_drum", "Winch drum nuts", 1
	text, err := procedures.Write(f)
	require.NoError(t, err)
	_, err = b.PutProcedure(ctx, b.crew["J. Hartwell"], "winch_drum",
		app.ProcedureInput{YAML: string(text), Reason: "winches"})
	require.NoError(t, err)
	in := app.JointInput{Tag: "WD-01", Area: "5 Gate 3", Family: "winch_drum", Specification: plan.Sample(f, nil)}
	in.Specification.Groups[0].Lubricant = "dry_as_received"
	_, err = b.CreateJoint(ctx, b.crew["J. Hartwell"], in)
	problem(t, err, app.Invalid, "not a joint family")
	_, err = b.ApproveProcedure(ctx, b.crew["J. Hartwell"], "winch_drum", 1)
	problem(t, err, app.Forbidden, "J. Hartwell wrote this version")
	renamed := b.crew["J. Hartwell"]
	renamed.Name = "J. Moss"
	_, err = b.ApproveProcedure(ctx, renamed, "winch_drum", 1)
	problem(t, err, app.Forbidden, "J. Moss wrote this version")
	namesake := b.crew["B. Ode"]
	namesake.Name = "J. Hartwell"
	_, err = b.ApproveProcedure(ctx, namesake, "winch_drum", 1)
	require.NoError(t, err, "two persons")
	d, err := b.CreateJoint(ctx, b.crew["J. Hartwell"], in)
	require.NoError(t, err)
	require.Equal(t, "Winch drum nuts", d.Plan.FamilyName)
}

// A target can be looked up in a table; a new version of the table makes its plans stale, a line that is not there is
// refused.
func TestTargetIsLookedUpInATable(t *testing.T) {
	b := newBench(t, true)
	d, err := b.Joint(ctx, "SD-21")
	require.NoError(t, err)
	require.InDelta(t, 58, float64(d.Plan.First().TargetNm), 1e-9)
	require.Equal(t, "M10", d.Plan.First().Thread.Text)
	require.Equal(t, "SDX", d.Plan.First().Table.Code)
	engineer := b.crew["J. Hartwell"]
	s := d.Versions[0].Specification
	s.Groups[0].Target.Keys = []string{"SDX", "70"}
	_, err = b.PutSpecification(ctx, engineer, "SD-22", withVariant(s, "with"), "other size")
	require.NoError(t, err, "the specification stands; the plan says what is missing")
	other, err := b.Joint(ctx, "SD-22")
	require.NoError(t, err)
	require.Contains(t, other.PlanError, "no line for Size")
	require.Contains(t, other.PlanError, "never read between its lines")
	table := fastener.Table{Code: "SDX", Name: "Shrink discs", Document: "sheet", Revision: "5",
		KeyNames: []string{"Type", "Size"}, Unit: quantity.NewtonMetre,
		Rows: []fastener.TableRow{{Keys: []string{"SDX", "65"}, Thread: "M10", Nominal: 60}}}
	_, err = b.PutLibraryValue(ctx, engineer, app.ShelfTables, "SDX",
		app.LibraryValue{Table: &table, Reason: "revision 5"})
	require.NoError(t, err)
	v, err := b.Run(ctx, d.RunID)
	require.NoError(t, err)
	require.Contains(t, v.PlanStale, "SDX")
	table.Rows = append(table.Rows, fastener.TableRow{Keys: []string{"SDX", "65"}, Nominal: 61})
	_, err = b.PutLibraryValue(ctx, engineer, app.ShelfTables, "SDX", app.LibraryValue{Table: &table, Reason: "twice"})
	require.Error(t, err)
}

func withVariant(s plan.Specification, shoulder string) plan.Specification {
	s.Variant = map[string]string{"shoulder": shoulder}
	s.Figures = map[string]float64{"halves_spread": 0.2}
	s.Groups = s.Groups[:1]
	return s
}

// A register carries every family: variant, figures, groups and tables go out and come back the same.
func TestRegisterOfEveryFamilyRoundTrip(t *testing.T) {
	b := newBench(t, true)
	var out strings.Builder
	require.NoError(t, b.Export(ctx, &out))
	res, err := b.Import(ctx, b.crew["J. Hartwell"], []byte(out.String()), false)
	require.NoError(t, err)
	require.Empty(t, res.Errors)
	require.Zero(t, res.Changed, "%v", res.Rows)
	require.Zero(t, res.New)
	head, _, _ := strings.Cut(out.String(), "\n")
	wrong := head + "\nNEW-1,n,north,,,shrink_disc,,,,10,,,M10,10.9,,light_oil,,,,58,5,,,,,,D,1,,,shoulder=maybe,,,,\n" +
		"NEW-2,n,north,,,hose_clamp,,,,2,,,M10,8.8,,light_oil,,,,58,5,,,,,,D,1,,,end=thread,wall=thick,,,\n" +
		"NEW-3,n,north,,,shrink_disc,,,,10,,,M10,10.9,,light_oil,,,,58,5,,,,,,D,1,,,shoulder=without,halves_spread=0.2; ring_gap=1,,,\n" +
		"NEW-3,,north,,,,,,,,,,M8,10.9,,light_oil,,,,28,5,,,,,,,,,nose,,,,,\n"
	res, err = b.Import(ctx, b.crew["J. Hartwell"], []byte(wrong), false)
	require.NoError(t, err)
	var at []string
	for _, e := range res.Errors {
		at = append(at, e.Column)
	}
	require.Subset(t, at, []string{"variant", "figures", "group"}, "%v", res.Errors)
}
