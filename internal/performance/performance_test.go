package performance

import (
	"strings"
	"testing"
	"testing/fstest"

	"github.com/stretchr/testify/require"
)

const output = `goos: linux
pkg: dynacor/internal/app
BenchmarkAppendEvent/50_clients-2     	    9639	    441288 ns/op	        54.28 ms_in_99_of_100	      2265 a_second
BenchmarkAppendEvent/yardstick:_50_clients,_one_row_each-2 	   40154	     110322 ns/op	  8.705 ms_in_99_of_100	     11798 a_second
BenchmarkVerifyFile/few_long_events-2  	 10	 170000000 ns/op	  24.1 MB/s
BenchmarkVerifyFile/yardstick_of_few_long_events:_by_the_standard_library-2  	 10	 85000000 ns/op
BenchmarkVerifyFile/yardstick_of_others:_never-2  	 10	 1 ns/op
BenchmarkMakePlanOf32Bolts-2  	 10	 0.5 ns/op	0 allocs/op
PASS
`

var dist = fstest.MapFS{
	"index.html": {Data: []byte(`<script type="module" src="/assets/index-A.js"></script>` +
		`<link rel="modulepreload" href="/assets/vendor-B.js"><link rel="modulepreload" href="/assets/small-C.js"><link rel="stylesheet" href="/assets/index-A.css">`)},
	"assets/index-A.js.gz":     {Data: make([]byte, 119_500)},
	"assets/vendor-B.js.gz":    {Data: make([]byte, 50_200)},
	"assets/small-C.js":        {Data: make([]byte, 900)},
	"assets/other-C.js.gz":     {Data: make([]byte, 900_000)},
	"assets/dynacor-D.wasm.br": {Data: make([]byte, 1_270_000)},
}

func TestDocumentTellsWhatWasMeasured(t *testing.T) {
	got, err := Write("# Performance\n"+begin+"old\n"+end+"Then.\n", strings.NewReader(output), dist)
	require.NoError(t, err)
	require.Equal(t, `# Performance
`+begin+`
| what | measured | yardstick of the same run | times |
| --- | --- | --- | --- |
| Append event: 50 clients | 441 µs, 54.3 ms in 99 of 100, 2265 a second | 50 clients, one row each: 110 µs, 8.71 ms in 99 of 100, 11798 a second | 4 |
| Verify file: few long events | 170 ms | by the standard library: 85 ms | 2 |
| Make plan of 32 bolts | 0.5 ns, 0 allocs/op | | |

The first page loads 171 kB of script, gzipped. The WebAssembly `+"`dynacor`"+` is 1.27 MB by brotli, as built here.

`+end+`Then.
`, got)
	again, err := Write(got, strings.NewReader(output), dist)
	require.NoError(t, err)
	require.Equal(t, got, again)
}

func TestNothingIsWrittenOfARunThatFailed(t *testing.T) {
	document := begin + end
	for bad, why := range map[string]string{
		output + "--- FAIL: BenchmarkX\n": "failed",
		"PASS\n":                          "no benchmark",
	} {
		_, err := Write(document, strings.NewReader(bad), dist)
		require.ErrorContains(t, err, why)
	}
	_, err := Write(begin, strings.NewReader(output), dist)
	require.ErrorContains(t, err, "marks")
	_, err = Write(document, strings.NewReader(output), fstest.MapFS{})
	require.Error(t, err)
}

func TestFiguresAreShort(t *testing.T) {
	for v, want := range map[float64]string{0: "0", 0.1234: "0.123", 1.5: "1.5", 12: "12", 99.96: "100", 1234.5: "1234",
		-2.04: "-2.04", 2.000: "2"} {
		require.Equal(t, want, figure(v))
	}
	for v, want := range map[float64]string{1: "1 s", 0.9994: "999 ms", 2e-6: "2 µs", 3.2e-8: "32 ns"} {
		require.Equal(t, want, span(v))
	}
}
