package httpapi

import (
	"errors"
	"net/http"
	"strings"

	"github.com/getkin/kin-openapi/openapi3"
	"github.com/getkin/kin-openapi/openapi3filter"
	"github.com/getkin/kin-openapi/routers"
	"github.com/getkin/kin-openapi/routers/gorillamux"
	"github.com/gin-gonic/gin"
)

// validator checks each request against the contract before a handler sees it.
func validator(doc *openapi3.T) (gin.HandlerFunc, error) {
	doc.Servers = openapi3.Servers{{URL: "/api"}} // path only: any host and port
	r, err := gorillamux.NewRouter(doc)
	if err != nil {
		return nil, err
	}
	opts := &openapi3filter.Options{AuthenticationFunc: openapi3filter.NoopAuthenticationFunc, KeepValidatedValue: true,
		MultiError: true}
	return func(c *gin.Context) {
		route, params, err := r.FindRoute(c.Request)
		if errors.Is(err, routers.ErrMethodNotAllowed) {
			problem(c, Problem{Title: "This cannot be done here.", Status: http.StatusMethodNotAllowed})
			return
		}
		if err != nil {
			problem(c, Problem{Title: "There is no such page of the interface.", Status: http.StatusNotFound})
			return
		}
		in := &openapi3filter.RequestValidationInput{Request: c.Request, PathParams: params, Route: route,
			Options: opts}
		if err := openapi3filter.ValidateRequest(c.Request.Context(), in); err != nil {
			list := fieldErrors(err)
			p := Problem{Title: "The entry does not fit.", Status: http.StatusUnprocessableEntity, Errors: &list}
			if len(list) > 0 {
				p.Field = &list[0].Field
				detail := list[0].Field + ": " + list[0].Reason
				p.Detail = &detail
			}
			problem(c, p)
			return
		}
		c.Next()
	}, nil
}

// fieldErrors names the fields and the reasons; the raw text would dump schema and value.
func fieldErrors(err error) []FieldError {
	switch e := err.(type) {
	case openapi3.MultiError:
		out := []FieldError{}
		for _, inner := range e {
			out = append(out, fieldErrors(inner)...)
		}
		return out
	case *openapi3filter.RequestError:
		if e.Err == nil {
			return []FieldError{{Field: "body", Reason: e.Reason}}
		}
		out := fieldErrors(e.Err)
		for i := range out {
			if e.Parameter != nil {
				out[i].Field = e.Parameter.Name
			}
		}
		return out
	case *openapi3.SchemaError:
		f := FieldError{Field: "body", Reason: e.Reason}
		if strings.HasPrefix(f.Reason, "Value is not nullable") {
			f.Reason = "is empty"
		}
		if p := e.JSONPointer(); len(p) > 0 {
			f.Field = strings.Join(p, ".")
		}
		return []FieldError{f}
	}
	return []FieldError{{Field: "body", Reason: "cannot be read"}}
}
