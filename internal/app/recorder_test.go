package app

import (
	"testing"

	"github.com/google/uuid"
	"github.com/stretchr/testify/require"
)

func parcelOf(run uuid.UUID, device string) *handedIn {
	return &handedIn{run: run, who: Actor{Device: device}, parcel: &Parcel{}}
}

// A desk takes what waits in its order: no two parcels of one run or one device, and none that another desk could
// touch.
func TestDeskTakesParcelsInTheirOrder(t *testing.T) {
	r := newRecorder()
	a, b, c := uuid.New(), uuid.New(), uuid.New()
	first, sameRun, behind, other := parcelOf(a, "1"), parcelOf(a, "2"), parcelOf(b, "2"), parcelOf(c, "3")
	require.True(t, r.handIn(first), "a desk opens")
	for _, h := range []*handedIn{sameRun, behind, other} {
		r.handIn(h)
	}
	require.Equal(t, 2, r.desks)
	one := r.next(nil)
	require.Equal(t, []*handedIn{first, other}, one, "device 2 sent for run a before it sent for run b")
	require.Empty(t, r.next(nil), "what is left waits for the first desk")
	require.Equal(t, 1, r.desks)
	two := r.next(one)
	require.Equal(t, []*handedIn{sameRun}, two)
	require.Equal(t, []*handedIn{behind}, r.next(two))
	require.Empty(t, r.next([]*handedIn{behind}))
	require.Zero(t, r.desks)
	require.Empty(t, r.busy)
	require.Empty(t, r.waiting)
}

func TestDeskTakesNoMoreThanOneTransactionShouldHold(t *testing.T) {
	r := newRecorder()
	for range mostTogether + 5 {
		r.handIn(parcelOf(uuid.New(), ""))
	}
	require.Len(t, r.next(nil), mostTogether)
	require.Len(t, r.next(nil), 5)
	inside := &handedIn{run: uuid.New(), who: Actor{Device: "x"}}
	require.Empty(t, inside.device(), "what comes from within comes from no device")
}
