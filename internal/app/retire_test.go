package app_test

import (
	"bytes"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"dynacor/core/plan"
	"dynacor/internal/app"
)

func total(t *testing.T, b *bench, q app.JointQuery) int {
	t.Helper()
	q.Limit, q.Sort = 5, "tag"
	p, err := b.Joints(ctx, q)
	require.NoError(t, err)
	return p.Total
}

func TestRetiredJointIsLeftAloneUntilItIsRestored(t *testing.T) {
	b := newBench(t, true)
	hartwell := b.crew["J. Hartwell"]
	all := total(t, b, app.JointQuery{})
	_, err := b.Retire(ctx, "SW-116", " ")
	require.Equal(t, "reason", problem(t, err, app.Invalid, "reason is empty").Field)
	_, err = b.Retire(ctx, "SW-999", "gone")
	problem(t, err, app.NotFound, "SW-999")
	_, err = b.Retire(ctx, "SW-114", "gone")
	problem(t, err, app.Conflict, "SW-114 is in hand")

	before, err := b.Joint(ctx, "SW-116")
	require.NoError(t, err)
	ofArea := app.JointQuery{Area: before.Joint.Area}
	there := total(t, b, ofArea)
	d, err := b.Retire(ctx, "SW-116", "line cut out, 100 % removed")
	require.NoError(t, err)
	require.Equal(t, []string{"retired", "line cut out, 100 % removed"}, []string{d.Joint.Glyph, d.Retired})
	require.Equal(t, all-1, total(t, b, app.JointQuery{}), "it no longer counts")
	require.Equal(t, there-1, total(t, b, ofArea), "nor in its area")
	require.Zero(t, total(t, b, app.JointQuery{Text: "sw-116"}))
	require.Equal(t, 1, total(t, b, app.JointQuery{Glyph: "retired"}), "and is found by its mark")
	for what, do := range map[string]func() error{
		"begin": func() error {
			_, err := b.StartRun(ctx, hartwell, "SW-116", plan.Choices{}, "")
			return err
		},
		"plan": func() error {
			_, err := b.SavePlan(ctx, hartwell, "SW-116", plan.Choices{}, "")
			return err
		},
		"specify": func() error {
			_, err := b.PutSpecification(ctx, hartwell, "SW-116", before.Versions[0].Specification, "again")
			return err
		},
		"move": func() error {
			_, err := b.EditJoint(ctx, "SW-116", app.JointPlace{Name: "x", Area: "y"})
			return err
		},
		"make": func() error {
			_, err := b.CopyJoint(ctx, hartwell, "SW-112", "SW-116")
			return err
		},
		"retire": func() error {
			_, err := b.Retire(ctx, "SW-116", "again")
			return err
		},
	} {
		p := problem(t, do(), app.Conflict, "retired")
		require.Contains(t, p.Remedy, "Restore it", what)
	}
	var out bytes.Buffer
	require.NoError(t, b.Export(ctx, &out))
	require.NotContains(t, out.String(), "SW-116")

	d, err = b.Restore(ctx, "SW-116", "the line stays")
	require.NoError(t, err)
	require.Equal(t, before.Joint.Glyph, d.Joint.Glyph, "as it stood")
	require.Empty(t, d.Retired)
	require.Equal(t, all, total(t, b, app.JointQuery{}))
	_, err = b.Restore(ctx, "SW-116", "the line stays")
	problem(t, err, app.Conflict, "in service")
	history, err := b.JointHistory(ctx, "SW-116")
	require.NoError(t, err)
	var said []string
	for _, h := range history {
		said = append(said, h.Before+" > "+h.After)
	}
	require.Contains(t, strings.Join(said, "\n"), "line cut out, 100 % removed > the line stays")
	_, err = b.JointHistory(ctx, "SW-999")
	problem(t, err, app.NotFound, "SW-999")
}

// A sealed joint may be retired: what was done to it stays in its records.
func TestRetiredJointKeepsItsRecords(t *testing.T) {
	b := newBench(t, true)
	d, err := b.Retire(ctx, "SW-111", "valve replaced by a spool")
	require.NoError(t, err)
	require.NotEmpty(t, d.Records)
	_, err = b.WorkAgain(ctx, b.crew["M. Tolley"], "SW-111", plan.Choices{}, "", "re-torque")
	problem(t, err, app.Conflict, "retired")
	d, err = b.Restore(ctx, "SW-111", "it was another one")
	require.NoError(t, err)
	require.Equal(t, "accepted", d.Joint.Glyph)
}

const heading = "tag,name,area,bolts,thread,material,lubricant,target_Nm,document,revision\n"

func TestImportIsUndoneAsNewChanges(t *testing.T) {
	b := newBench(t, true)
	hartwell := b.crew["J. Hartwell"]
	put := func(lines string) app.ImportResult {
		t.Helper()
		b.now = b.now.Add(time.Minute)
		res, err := b.Import(ctx, hartwell, []byte(heading+lines), true)
		require.NoError(t, err)
		require.Empty(t, res.Errors)
		return res
	}
	line := func(tag, name, nm string) string {
		return tag + "," + name + ",North,8,M20,8.8,light_oil," + nm + ",D-1,A\n"
	}
	first := put(line("A-1", "Pump", "300") + line("A-2", "Tank", "300") + line("A-3", "Fan", "300"))
	require.NotEmpty(t, first.ID)
	require.Empty(t, put(line("A-1", "Pump", "300")).ID, "what changes nothing need not be undone")
	second := put(line("A-1", "Pump", "310") + line("A-2", "Tank two", "300") + line("A-3", "Fan two", "300") +
		line("B-1", "Mill", "200") + line("B-2", "Kiln", "200") + line("B-3", "Saw", "200") + line("B-4", "Lift", "200"))
	_, err := b.EditJoint(ctx, "A-3", app.JointPlace{Name: "Fan three", Area: "North"})
	require.NoError(t, err)
	b.now = b.now.Add(time.Minute)
	_, err = b.StartRun(ctx, b.crew["M. Tolley"], "B-2", plan.Choices{}, "")
	require.NoError(t, err)
	d, err := b.Joint(ctx, "B-3")
	require.NoError(t, err)
	s := d.Versions[0].Specification
	s.Groups[0].Target.Nominal = 210
	_, err = b.PutSpecification(ctx, hartwell, "B-3", s, "revised")
	require.NoError(t, err)
	_, err = b.Retire(ctx, "B-4", "never built")
	require.NoError(t, err)

	want := map[string]string{"A-1": "back: place, name and the specification of before, as a new version",
		"A-2": "back: place and name", "A-3": "left: its name or place was changed since",
		"B-1": "retired: came with the import", "B-2": "left: work was begun on it since",
		"B-3": "left: its specification was changed since", "B-4": "left: retired since"}
	for _, apply := range []bool{false, true} {
		res, err := b.UndoImport(ctx, hartwell, second.ID, apply)
		require.NoError(t, err)
		require.Equal(t, apply, res.Applied)
		require.Equal(t, []int{1, 2, 4}, []int{res.Retired, res.Back, res.Left})
		got := map[string]string{}
		for _, l := range res.Lines {
			got[l.Tag] = l.Does + ": " + l.What
		}
		require.Equal(t, want, got)
		if !apply {
			d, err := b.Joint(ctx, "A-1")
			require.NoError(t, err)
			require.Len(t, d.Versions, 2, "a preview changes nothing")
		}
	}
	d, err = b.Joint(ctx, "A-1")
	require.NoError(t, err)
	require.Len(t, d.Versions, 3, "nothing is erased")
	require.InDelta(t, 300, d.Versions[0].Specification.Groups[0].Target.Nominal, 0)
	require.Contains(t, d.Versions[0].Reason, "undone")
	d, err = b.Joint(ctx, "A-2")
	require.NoError(t, err)
	require.Equal(t, "Tank", d.Joint.Name)
	require.Len(t, d.Versions, 1)
	d, err = b.Joint(ctx, "B-1")
	require.NoError(t, err)
	require.Contains(t, d.Retired, "undone")

	_, err = b.UndoImport(ctx, hartwell, second.ID, true)
	problem(t, err, app.Conflict, "J. Hartwell has undone this import already")
	_, err = b.UndoImport(ctx, hartwell, "nonsense", true)
	problem(t, err, app.NotFound, "nonsense")
	list, err := b.Imports(ctx)
	require.NoError(t, err)
	require.Equal(t, []string{"J. Hartwell", ""}, []string{list[0].UndoneBy, list[1].UndoneBy})

	res := put(line("B-1", "Mill", "200"))
	require.Equal(t, "restored", res.Rows[0].Does, "a register that names a retired joint brings it back")
	d, err = b.Joint(ctx, "B-1")
	require.NoError(t, err)
	require.Equal(t, []string{"", "ready"}, []string{d.Retired, d.Joint.Glyph})
	_, err = b.UndoImport(ctx, hartwell, res.ID, true)
	require.NoError(t, err)
	d, err = b.Joint(ctx, "B-1")
	require.NoError(t, err)
	require.NotEmpty(t, d.Retired, "and undoing that retires it again")
}
