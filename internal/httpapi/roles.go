package httpapi

import (
	"fmt"
	"slices"
	"strings"

	"github.com/getkin/kin-openapi/openapi3"

	"dynacor/core/authority"
)

// access is who may use a route.
type access struct {
	operation string
	public    bool     // nobody need be signed in
	roles     []string // nil: anyone who is signed in
}

// to reports whether somebody of a role may use the route.
func (a access) to(role string) bool {
	return a.public || a.roles == nil && role != "" || authority.Covers(role, a.roles...)
}

// accessOf reads from the contract who may use each route, by method and path as the router knows it: x-roles is
// [public], [anyone], or the roles. A route that does not say is an error, so that none is open by oversight.
func accessOf(doc *openapi3.T) (map[string]access, error) {
	out := map[string]access{}
	for path, item := range doc.Paths.Map() {
		for method, op := range item.Operations() {
			list, _ := op.Extensions["x-roles"].([]any)
			// the embedded contract writes Go names
			a := access{operation: strings.ToLower(op.OperationID[:1]) + op.OperationID[1:]}
			for _, v := range list {
				switch role, _ := v.(string); {
				case role == "public" && len(list) == 1:
					a.public = true
				case role == "anyone" && len(list) == 1:
				case slices.Contains(authority.Roles, role):
					a.roles = append(a.roles, role)
				default:
					return nil, fmt.Errorf("%s %s: %v is not a role", method, path, v)
				}
			}
			if len(list) == 0 {
				return nil, fmt.Errorf("%s %s does not say who may use it", method, path)
			}
			out[method+" "+routerPath(path)] = a
		}
	}
	return out, nil
}

// may lists what somebody of a role may do: operations of the contract and acts of core, by their names.
func (s *server) may(role string) []string {
	list := []string{}
	for _, a := range s.access {
		if a.to(role) {
			list = append(list, a.operation)
		}
	}
	for _, a := range authority.Acts() {
		if authority.May(role, a) {
			list = append(list, string(a))
		}
	}
	slices.Sort(list)
	return list
}
