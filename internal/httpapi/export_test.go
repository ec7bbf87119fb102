package httpapi

import (
	"testing"
	"time"
)

// SlowestBodyForTest shortens how long a body may take to arrive, until the test ends.
func SlowestBodyForTest(t *testing.T, d time.Duration) {
	was := slowestBody
	slowestBody = d
	t.Cleanup(func() { slowestBody = was })
}
