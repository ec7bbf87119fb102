package httpapi

import (
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"math"
	"net/http"
	"net/url"
	"strconv"
	"strings"
	"time"
	"unicode"
	"unicode/utf8"

	"github.com/getkin/kin-openapi/openapi3"
	"github.com/gin-gonic/gin"
)

// Bounds of what is read of a request before any work is done on it. The size of a body stands in the contract, route
// by route.
const (
	mostBodyDefault = 256 << 10 // of a route whose x-most-bytes says nothing else
	mostStranger    = 4 << 20   // of a body that nobody signed in sends
	mostText        = 4_000     // characters of a text in JSON
	mostLongText    = 256 << 10 // of one that the contract says is long
	mostDepth       = 32        // of JSON
	mostValues      = 100_000   // of JSON
	mostNumber      = 1e18
	slowestLargeOne = 3 * time.Minute  // and for one of more than a megabyte
	slowestWork     = 30 * time.Second // for an answer
	slowestLong     = 3 * time.Minute  // for one to a large body, or a document
)

// slowestBody is how long a body may take to arrive.
var slowestBody = 30 * time.Second

// longTexts are the fields whose text may be long: a procedure as YAML, an event as it was signed.
var longTexts = map[string]bool{"yaml": true, "text": true}

// bodyLimits reads the size of every route's body from the contract: by method and path as the router knows it.
func bodyLimits(doc *openapi3.T) map[string]int64 {
	out := map[string]int64{}
	for path, item := range doc.Paths.Map() {
		for method, op := range item.Operations() {
			limit := int64(mostBodyDefault)
			if v, ok := op.Extensions["x-most-bytes"].(float64); ok {
				limit = int64(v)
			}
			out[method+" "+routerPath(path)] = limit
		}
	}
	return out
}

// routerPath writes a path of the contract as the router does: /runs/{id} as /runs/:id.
func routerPath(path string) string {
	return strings.NewReplacer("{", ":", "}", "").Replace(path)
}

// bounded gives a request its bounds: bytes and time of the body, time of the work. It refuses texts no field can mean
// in path and query.
func bounded(limits map[string]int64) gin.HandlerFunc {
	return func(c *gin.Context) {
		limit := limits[c.Request.Method+" "+strings.TrimPrefix(c.FullPath(), "/api")]
		if limit == 0 {
			limit = mostBodyDefault
		}
		body, work := slowestBody, slowestWork
		if limit > 1<<20 {
			body, work = slowestLargeOne, slowestLong
		}
		if strings.HasSuffix(c.FullPath(), ".pdf") || strings.Contains(c.FullPath(), "/export/") {
			work = slowestLong
		}
		rc := http.NewResponseController(c.Writer)
		_ = rc.SetReadDeadline(time.Now().Add(body)) // not every writer has deadlines; the server's own has
		_ = rc.SetWriteDeadline(time.Now().Add(body + work + slowestBody))
		c.Request.Body = http.MaxBytesReader(c.Writer, c.Request.Body, limit)
		ctx, cancel := context.WithTimeout(c.Request.Context(), body+work)
		defer cancel()
		c.Request = c.Request.WithContext(ctx)
		if field, why := plainAddress(c); why != "" {
			remedy := "Send plain text."
			problem(c, Problem{Title: "The address has " + why + ".", Status: http.StatusUnprocessableEntity,
				Field: &field, Remedy: &remedy})
			return
		}
		c.Next()
	}
}

// plainAddress looks through path and query for what no name can hold.
func plainAddress(c *gin.Context) (field, why string) {
	for _, p := range c.Params {
		if why := plain(p.Value, 200); why != "" {
			return p.Key, why
		}
	}
	query, err := url.ParseQuery(c.Request.URL.RawQuery)
	if err != nil {
		return "query", "an escape that is none"
	}
	for k, list := range query {
		for _, v := range append(list, k) {
			if why := plain(v, mostText); why != "" {
				return k, why
			}
		}
	}
	return "", ""
}

// plain says why a text cannot be meant: a control character, bytes that are no text, too long. "": it can.
func plain(s string, most int) string {
	if !utf8.ValidString(s) {
		return "bytes that are not UTF-8 text"
	}
	if len(s) > most && utf8.RuneCountInString(s) > most {
		return fmt.Sprintf("a text of more than %d characters", most)
	}
	for _, r := range s {
		if unicode.IsControl(r) && r != '\n' && r != '\r' && r != '\t' {
			return fmt.Sprintf("a control character (U+%04X)", r)
		}
	}
	return ""
}

// read takes in a body, so that no work waits for a slow one, and refuses of JSON, by field, what cannot be meant
// before anything is made of it.
func read(c *gin.Context) (ok bool) {
	if c.Request.Body == nil {
		return true
	}
	data, err := io.ReadAll(c.Request.Body)
	if err != nil {
		tooLarge(c, err)
		return false
	}
	c.Request.Body = io.NopCloser(bytes.NewReader(data))
	c.Request.ContentLength = int64(len(data))
	if len(data) == 0 || !strings.HasPrefix(c.GetHeader("Content-Type"), "application/json") {
		return true // whether there must be a body stands in the contract
	}
	if field, why := sane(data); why != "" {
		remedy := "Correct it and send it again. Nothing was kept."
		problem(c, Problem{Title: capital(why) + ".", Status: http.StatusUnprocessableEntity, Field: &field,
			Remedy: &remedy})
		return false
	}
	return true
}

func capital(s string) string { return strings.ToUpper(s[:1]) + s[1:] }

// tooLarge answers a body that could not be read to its end.
func tooLarge(c *gin.Context, err error) {
	var large *http.MaxBytesError
	if errors.As(err, &large) {
		remedy := "Send less at once."
		problem(c, Problem{Title: fmt.Sprintf("More than %s were sent.", size(large.Limit)),
			Status: http.StatusRequestEntityTooLarge, Remedy: &remedy})
		return
	}
	remedy := "Send it again."
	problem(c, Problem{Title: "What was sent did not arrive whole.", Status: http.StatusRequestTimeout,
		Remedy: &remedy})
}

func size(n int64) string {
	if n >= 1<<20 {
		return strconv.FormatInt(n>>20, 10) + " MB"
	}
	return strconv.FormatInt(n>>10, 10) + " kB"
}

// sane walks through JSON token by token, so that nothing is built that is deeper, longer or more than the bounds. It
// gives the field and what is wrong with it; "" when nothing is.
func sane(data []byte) (field, why string) {
	if !utf8.Valid(data) {
		return "body", "the body is not UTF-8 text"
	}
	dec := json.NewDecoder(bytes.NewReader(data))
	dec.UseNumber()
	w := walker{dec: dec}
	if why := w.value(0); why != "" {
		return w.field(), why
	}
	if _, err := dec.Token(); !errors.Is(err, io.EOF) {
		return "body", "something follows the end of the body"
	}
	return "", ""
}

type walker struct {
	dec    *json.Decoder
	path   []string
	values int
}

func (w *walker) field() string {
	if len(w.path) == 0 {
		return "body"
	}
	return strings.Join(w.path, ".")
}

func (w *walker) value(depth int) string {
	if w.values++; w.values > mostValues {
		return fmt.Sprintf("the body has more than %d values", mostValues)
	}
	t, err := w.dec.Token()
	if err != nil {
		return "the body cannot be read as JSON"
	}
	switch v := t.(type) {
	case string:
		most, name := mostText, ""
		if len(w.path) > 0 {
			name = w.path[len(w.path)-1]
		}
		if longTexts[name] {
			most = mostLongText
		}
		if name == "text" && len(v) <= most {
			return "" // an event is judged by itself, and holds up no other
		}
		if why := plain(v, most); why != "" {
			return w.field() + " has " + why
		}
	case json.Number:
		if f, err := v.Float64(); err != nil || math.Abs(f) > mostNumber {
			return w.field() + " is a number that cannot be meant"
		}
	case json.Delim:
		if depth >= mostDepth {
			return fmt.Sprintf("the body is nested deeper than %d levels", mostDepth)
		}
		return w.inside(v, depth)
	}
	return ""
}

// inside walks through an object or a list up to its end.
func (w *walker) inside(open json.Delim, depth int) string {
	seen := map[string]bool{}
	for i := 0; w.dec.More(); i++ {
		at := strconv.Itoa(i)
		if open == '{' {
			t, err := w.dec.Token()
			if err != nil {
				return "the body cannot be read as JSON"
			}
			at, _ = t.(string)
			if why := plain(at, 200); why != "" {
				return "a field's name has " + why
			}
			if seen[at] {
				return "the field " + at + " stands twice"
			}
			seen[at] = true
		}
		w.path = append(w.path, at)
		if why := w.value(depth + 1); why != "" {
			return why
		}
		w.path = w.path[:len(w.path)-1]
	}
	if _, err := w.dec.Token(); err != nil {
		return "the body cannot be read as JSON"
	}
	return ""
}

// gate lets a few pieces of heavy work run at once and a few more wait; past that the server says that it is busy
// instead of falling over.
type gate struct {
	running chan struct{}
	waiting chan struct{}
}

func newGate(running, waiting int) gate {
	return gate{make(chan struct{}, running), make(chan struct{}, running+waiting)}
}

// wait takes a place among those who wait; leave must be called when it gives one.
func (g gate) wait() (leave func(), ok bool) {
	select {
	case g.waiting <- struct{}{}:
		return func() { <-g.waiting }, true
	default:
		return nil, false
	}
}

// run waits until the work may begin; leave must be called when it may.
func (g gate) run(ctx context.Context) (leave func(), ok bool) {
	select {
	case g.running <- struct{}{}:
		return func() { <-g.running }, true
	case <-ctx.Done():
		return nil, false
	}
}

// heavy are the routes that take memory or time: a few at once, by kind.
var heavy = map[string]string{
	"POST /verify":                         "verify",
	"GET /records/:number/certificate.pdf": "print",
	"GET /records/:number/tag.pdf":         "print",
	"GET /labels":                          "print",
	"GET /labels.pdf":                      "print",
	"POST /import/joints":                  "import",
	"POST /import/tools":                   "import",
	"GET /export/joints.csv":               "import",
	"GET /export/tools.csv":                "import",
	"GET /export/tools.xlsx":               "import",
	"PUT /runs/:id/photos/:photo":          "picture",
	"PUT /plant-notes/:id/photo":           "picture",
	"PUT /tools/:tag/files/:id":            "picture",
	"POST /procedures/:code/try":           "procedure",
	"PUT /procedures/:code":                "procedure",
	"POST /calculations/:name":             "calculate",
	"GET /packages/:code/shift":            "shift",
	"PUT /packages/:code/shift/in-force":   "shift",
	"POST /packages/:code/shift/move":      "move",
	"GET /packages/:code/shift/stands":     "move",
	"GET /walk-along":                      "walk",
	"POST /walk":                           "walk",
	"GET /due":                             "move",
	"GET /calendar/:token":                 "calendar",
	"POST /lab/history.xlsx":               "lab",
	"PUT /joints/:tag/lab/fit":             "lab",
	"POST /joints/:tag/lab/change":         "lab",
	"POST /packages/:code/joints":          "import",
	"GET /packages/:code/joints.csv":       "import",
	"GET /packages/:code/joints.xlsx":      "import",
}

// queue takes bodies in and lets heavy work begin by its kind's gate: a place to wait comes before the body, the work
// after it.
func queue() gin.HandlerFunc {
	gates := map[string]gate{"verify": newGate(2, 30), "print": newGate(2, 20), "import": newGate(1, 10),
		"picture": newGate(2, 60), "procedure": newGate(2, 30), "calculate": newGate(4, 200), "shift": newGate(2, 20),
		"move": newGate(4, 60), "calendar": newGate(1, 20),
		"lab": newGate(1, 20), "walk": newGate(2, 60)}
	return func(c *gin.Context) {
		g, ok := gates[heavy[c.Request.Method+" "+strings.TrimPrefix(c.FullPath(), "/api")]]
		if !ok {
			if read(c) {
				c.Next()
			}
			return
		}
		leave, ok := g.wait()
		if !ok {
			busy(c)
			return
		}
		defer leave()
		if !read(c) {
			return
		}
		end, ok := g.run(c.Request.Context())
		if !ok {
			busy(c)
			return
		}
		defer end()
		c.Next()
	}
}

// busy says that the server has too much to do, or that its database does not answer: the request may be sent again as
// it is.
func busy(c *gin.Context) {
	remedy := "Nothing was lost. Try again in a moment."
	c.Header("Retry-After", "5")
	problem(c, Problem{Title: "The server has too much to do just now.", Status: http.StatusServiceUnavailable,
		Remedy: &remedy})
}
