package httpapi

import (
	"net/http"
	"time"

	"github.com/alexedwards/scs/v2"
	"github.com/gin-gonic/gin"
)

// sessions is scs's LoadAndSave written for gin, keeping gin's own writer underneath.
func sessions(sm *scs.SessionManager) gin.HandlerFunc {
	return func(c *gin.Context) {
		c.Header("Vary", "Cookie")
		var token string
		if ck, err := c.Request.Cookie(sm.Cookie.Name); err == nil {
			token = ck.Value
		}
		ctx, err := sm.Load(c.Request.Context(), token)
		if err != nil {
			_ = c.Error(err)
			busy(c) // whoever is signed in stays so
			return
		}
		c.Request = c.Request.WithContext(ctx)
		w := &sessionWriter{ResponseWriter: c.Writer}
		w.commit = func() {
			switch sm.Status(ctx) {
			case scs.Modified:
				token, expiry, err := sm.Commit(ctx)
				if err != nil {
					_ = c.Error(err)
					return
				}
				sm.WriteSessionCookie(ctx, w.ResponseWriter, token, expiry)
			case scs.Destroyed:
				sm.WriteSessionCookie(ctx, w.ResponseWriter, "", time.Time{})
			}
		}
		c.Writer = w
		c.Next()
		w.once()
	}
}

type sessionWriter struct {
	gin.ResponseWriter
	commit func()
	done   bool
}

func (w *sessionWriter) once() {
	if !w.done {
		w.done = true
		w.commit()
	}
}

func (w *sessionWriter) Write(b []byte) (int, error) { w.once(); return w.ResponseWriter.Write(b) }
func (w *sessionWriter) WriteString(s string) (int, error) {
	w.once()
	return w.ResponseWriter.WriteString(s)
}
func (w *sessionWriter) WriteHeaderNow()             { w.once(); w.ResponseWriter.WriteHeaderNow() }
func (w *sessionWriter) Flush()                      { w.once(); w.ResponseWriter.Flush() }
func (w *sessionWriter) Unwrap() http.ResponseWriter { return w.ResponseWriter }
