// Package httpapi is the HTTP side of Dynacor: it checks requests against the contract, finds out who asks and whether
// they may, and hands over to app. It must never decide anything about the work.
package httpapi

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"log/slog"
	"net/http"
	"net/url"
	"slices"
	"strings"
	"time"

	"github.com/alexedwards/scs/pgxstore"
	"github.com/alexedwards/scs/v2"
	"github.com/gin-contrib/gzip"
	"github.com/gin-gonic/gin"
	"github.com/jackc/pgx/v5/pgxpool"
	"github.com/unrolled/secure"

	"dynacor/api"
	"dynacor/core/authority"
	"dynacor/core/quantity"
	"dynacor/internal/app"
	"dynacor/internal/device"
	"dynacor/internal/live"
	"dynacor/internal/store"
)

// Options of the handler.
type Options struct {
	Log      *slog.Logger
	Secure   bool // cookies over TLS only
	Interval time.Duration
	Live     *live.Hub
	Proxies  []string                    // addresses whose word counts for where a request came from
	Ready    func(context.Context) error // says why the server cannot take work; nil: it always can
}

// livePath is where changes are told as they happen: a stream, which the contract cannot describe.
const livePath = "/live"

type server struct {
	app  *app.App
	sm   *scs.SessionManager
	live *live.Hub
	log  *slog.Logger

	access  map[string]access // by method and path
	streams streams
}

var _ StrictServerInterface = (*server)(nil)

type actorKey struct{}

// actor is who asks; the routes make sure that there is one.
func actor(ctx context.Context) app.Actor {
	a, _ := ctx.Value(actorKey{}).(app.Actor)
	return a
}

// sessionLogin is what the session keeps: which sign-in it belongs to.
const sessionLogin = "login"

type fromKey struct{}

// asked is where a request comes from.
func asked(ctx context.Context) app.From {
	f, _ := ctx.Value(fromKey{}).(app.From)
	return f
}

// New makes the handler of the API and, for everything else, of the pages.
func New(a *app.App, pool *pgxpool.Pool, pages http.Handler, o Options) (http.Handler, error) {
	gin.SetMode(gin.ReleaseMode)
	r := gin.New()
	r.ContextWithFallback = true // handlers' contexts then end with the request
	r.HandleMethodNotAllowed = true
	r.UseRawPath = true // a thread such as 1 1/8-8 is one part of a path
	if err := r.SetTrustedProxies(o.Proxies); err != nil {
		return nil, fmt.Errorf("the proxies before the server: %w", err)
	}
	r.Use(recovery(o.Log), headers(o.Secure))
	r.GET("/healthz", func(c *gin.Context) { c.String(http.StatusOK, "alive") })
	r.GET("/readyz", func(c *gin.Context) {
		ctx, cancel := context.WithTimeout(c.Request.Context(), readyWithin)
		defer cancel()
		if o.Ready != nil {
			if err := o.Ready(ctx); err != nil {
				c.String(http.StatusServiceUnavailable, "not ready: "+err.Error())
				return
			}
		}
		c.String(http.StatusOK, "ready")
	})
	sm := scs.New()
	sm.Store = pgxstore.NewWithCleanupInterval(pool, o.Interval)
	sm.Lifetime = 7 * 24 * time.Hour // the house rules end a sign-in earlier
	sm.Cookie.Name, sm.Cookie.SameSite, sm.Cookie.HttpOnly, sm.Cookie.Secure = "dynacor", http.SameSiteStrictMode, true,
		o.Secure
	s := &server{app: a, sm: sm, live: o.Live, log: o.Log}
	doc, err := GetSpec()
	if err != nil {
		return nil, err
	}
	if s.access, err = accessOf(doc); err != nil {
		return nil, fmt.Errorf("the contract: %w", err)
	}
	s.access[http.MethodGet+" "+livePath] = access{operation: "followLive"}
	check, err := validator(doc)
	if err != nil {
		return nil, err
	}
	failed := func(c *gin.Context, err error) { fail(c, o.Log, err) }
	unread := func(c *gin.Context, err error) {
		// What is kept in two forms is looked at more closely when it is read than the contract can say.
		var wrong *json.UnmarshalTypeError
		if errors.As(err, &wrong) && wrong.Field != "" {
			failed(c, quantity.Refuse(wrong.Field[strings.LastIndexByte(wrong.Field, '.')+1:],
				"Look at the contract for what it is.", "is of the wrong kind"))
			return
		}
		detail := err.Error()
		problem(c, Problem{Title: "The entry cannot be read.", Status: http.StatusBadRequest, Detail: &detail})
	}
	routes := r.Group("/api", noStore, sameSite, bounded(bodyLimits(doc)), sessions(sm), s.admit, queue(),
		gzip.Gzip(gzip.DefaultCompression), check)
	RegisterHandlersWithOptions(routes,
		NewStrictHandlerWithOptions(s, nil, StrictGinServerOptions{RequestErrorHandlerFunc: unread,
			HandlerErrorFunc: failed, ResponseErrorHandlerFunc: failed}),
		GinServerOptions{ErrorHandler: func(c *gin.Context, err error, status int) {
			detail := err.Error()
			problem(c, Problem{Title: "The entry cannot be read.", Status: status, Detail: &detail})
		}})
	// Streams: neither pressed together nor held against the contract, which knows requests with one answer.
	r.Group("/api", noStore, sameSite, sessions(sm), s.admit).GET(livePath, s.stream)
	r.GET(device.Path, s.link)
	r.GET("/api/openapi.yaml", func(c *gin.Context) {
		c.Data(http.StatusOK, "application/yaml; charset=utf-8",
			api.Contract)
	})
	r.NoRoute(func(c *gin.Context) {
		if ofTheInterface(c.Request.URL.Path) {
			problem(c, Problem{Title: "There is no such page of the interface.", Status: http.StatusNotFound})
			return
		}
		pages.ServeHTTP(c.Writer, c.Request)
	})
	return r, nil
}

// ofTheInterface reports whether a path can never be one of a page, so that whoever asks gets an answer and not the
// application.
func ofTheInterface(path string) bool {
	return slices.ContainsFunc([]string{"/api", "/readyz", "/healthz", "/metrics"}, func(p string) bool {
		return path == p || strings.HasPrefix(path, p+"/")
	})
}

func recovery(log *slog.Logger) gin.HandlerFunc {
	return gin.CustomRecoveryWithWriter(nil, func(c *gin.Context, v any) {
		log.Error("panic", "path", c.Request.URL.Path, "value", v)
		problem(c, Problem{Title: "Something broke here. What was kept is safe.",
			Status: http.StatusInternalServerError})
	})
}

func headers(tls bool) gin.HandlerFunc {
	sec := secure.New(secure.Options{
		IsDevelopment: !tls, FrameDeny: true, ContentTypeNosniff: true, ReferrerPolicy: "same-origin",
		STSSeconds: 365 * 24 * 3600, ForceSTSHeader: tls,
		ContentSecurityPolicy: "default-src 'self'; script-src 'self' 'wasm-unsafe-eval'; style-src 'self' " +
			"'unsafe-inline'; img-src 'self' data: blob:; font-src 'self' data:; " +
			"connect-src 'self'; worker-src 'self'; manifest-src 'self'; object-src 'none'; base-uri 'none'; " +
			"frame-ancestors 'none'; form-action 'self'",
		PermissionsPolicy: "camera=(self), microphone=(self), geolocation=()",
	})
	return func(c *gin.Context) {
		if err := sec.Process(c.Writer, c.Request); err != nil {
			c.Abort()
		}
	}
}

// noStore keeps answers of the interface out of every cache: what one person may see is not for the next.
func noStore(c *gin.Context) { c.Header("Cache-Control", "no-store") }

// sameSite refuses what a page of another origin sends in a signed-in person's name; a page of the same site on another
// port or host is another page. A program that says nothing of where it comes from is no page.
func sameSite(c *gin.Context) {
	if c.Request.Method == http.MethodGet || c.Request.Method == http.MethodHead {
		return
	}
	site := c.GetHeader("Sec-Fetch-Site")
	foreign := site != "" && site != "same-origin" && site != "none"
	if origin := c.GetHeader("Origin"); origin != "" {
		u, err := url.Parse(origin)
		foreign = foreign || err != nil || u.Host != c.Request.Host
	}
	if foreign {
		remedy := "Open Dynacor itself and do it there."
		problem(c, Problem{Title: "This came from another page.", Status: http.StatusForbidden, Remedy: &remedy})
	}
}

// readyWithin is how long the server may take to find out whether it can take work.
const readyWithin = 3 * time.Second

// admit finds out who asks and whether the route is theirs.
func (s *server) admit(c *gin.Context) {
	route, known := s.access[c.Request.Method+" "+strings.TrimPrefix(c.FullPath(), "/api")]
	if !known {
		problem(c, Problem{Title: "There is no such page of the interface.", Status: http.StatusNotFound})
		return
	}
	var who app.Actor
	if login := s.sm.GetString(c.Request.Context(), sessionLogin); login != "" {
		a, err := s.app.Who(c.Request.Context(), login)
		if _, ended := app.AsProblem(err); err != nil && !ended {
			fail(c, s.log, err) // a fault of the database is no reason to sign in again
			return
		}
		if err == nil {
			a.Address = c.ClientIP()
			who = a
			ctx := context.WithValue(c.Request.Context(), actorKey{}, who)
			// events stand in their own chain
			if c.Request.Method != http.MethodGet && c.FullPath() != "/api/runs/:id/events" {
				ctx = store.WithActor(ctx, who.Name+", "+who.Role+", "+who.Address)
			}
			c.Request = c.Request.WithContext(ctx)
		}
	}
	c.Request = c.Request.WithContext(context.WithValue(c.Request.Context(), fromKey{},
		app.From{Address: c.ClientIP(), Agent: c.Request.UserAgent()}))
	if who.ID == "" && c.Request.Body != nil {
		c.Request.Body = http.MaxBytesReader(c.Writer, c.Request.Body, mostStranger)
	}
	if route.public {
		return
	}
	if who.ID == "" {
		problem(c, Problem{Title: "Sign in first.", Status: http.StatusUnauthorized})
		return
	}
	if !s.consent(c, who) {
		return
	}
	if !route.to(who.Role) {
		remedy := "Ask someone who is " + authority.AnyOf(route.roles) + "."
		problem(c, Problem{Title: "A " + who.Role + " may not do this.", Status: http.StatusForbidden, Remedy: &remedy})
	}
}

// consent takes in the leave of a person who gives it with a PIN, in two headers. false: name and PIN do not go
// together, and the request is answered.
func (s *server) consent(c *gin.Context, who app.Actor) bool {
	id := c.GetHeader("Consent-Person")
	if id == "" {
		return true
	}
	pin, err := url.PathUnescape(c.GetHeader("Consent-Pin"))
	if err == nil {
		who.Leave, _, err = s.app.CheckPIN(c.Request.Context(), id, pin,
			app.From{Address: c.ClientIP(), Agent: c.Request.UserAgent(), Device: who.Device})
	}
	if err != nil {
		p, ok := app.AsProblem(err)
		if !ok {
			fail(c, s.log, err)
			return false
		}
		field := app.ConsentField
		problem(c, Problem{Title: p.Title, Status: http.StatusForbidden, Field: &field, Remedy: &p.Remedy})
		return false
	}
	c.Request = c.Request.WithContext(context.WithValue(c.Request.Context(), actorKey{}, who))
	return true
}

// statusOf is the HTTP status that tells a kind of problem (RFC 9110).
var statusOf = map[app.ProblemKind]int{
	app.Invalid: http.StatusUnprocessableEntity, app.NotFound: http.StatusNotFound, app.Conflict: http.StatusConflict,
	app.Closed: http.StatusGone, app.NotSignedIn: http.StatusUnauthorized,
	app.Forbidden: http.StatusForbidden, app.TooOften: http.StatusTooManyRequests,
	app.TooLarge: http.StatusRequestEntityTooLarge, app.Outdated: http.StatusUpgradeRequired,
	app.Unavailable: http.StatusServiceUnavailable,
}

// problem answers with problem+json (RFC 9457) and ends the request.
func problem(c *gin.Context, p Problem) {
	c.Header("Content-Type", "application/problem+json")
	c.AbortWithStatusJSON(p.Status, p)
}

// fail turns an error into a problem; a fault of the program is logged and not told.
func fail(c *gin.Context, log *slog.Logger, err error) {
	if p, ok := app.AsProblem(err); ok {
		out := Problem{Title: p.Title, Status: statusOf[p.Kind]}
		if p.Field != "" {
			out.Field = &p.Field
		}
		if p.Remedy != "" {
			out.Remedy = &p.Remedy
		}
		if len(p.Choices) > 0 {
			out.Choices = &p.Choices
		}
		problem(c, out)
		return
	}
	var large *http.MaxBytesError
	if errors.As(err, &large) {
		tooLarge(c, err)
		return
	}
	if c.Request.Context().Err() == context.Canceled { // nobody listens any more
		c.Abort()
		return
	}
	if store.Unavailable(err) {
		log.Warn("the database did not take a request", "method", c.Request.Method, "path", c.Request.URL.Path, "error",
			err)
		busy(c)
		return
	}
	log.Error("request failed", "method", c.Request.Method, "path", c.Request.URL.Path, "error", err)
	problem(c, Problem{Title: "Something broke here. What was kept is safe.", Status: http.StatusInternalServerError})
}
