package app_test

import (
	"go/ast"
	"go/parser"
	"go/token"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"
)

// reach is what a method of App touches: the pool by itself, or other methods that do.
type reach struct {
	asksPool bool
	calls    map[string]bool
}

// selector gives x.y of a selector on the receiver, "" for others.
func selector(n ast.Node, receiver string) string {
	s, ok := n.(*ast.SelectorExpr)
	if !ok {
		return ""
	}
	if id, ok := s.X.(*ast.Ident); ok && id.Name == receiver {
		return s.Sel.Name
	}
	return ""
}

// No code takes a connection while it holds one: what is given the transaction's queries asks nothing of the pool,
// itself or through another method. A second connection inside a transaction is how as many requests as there are
// connections wait for each other for ever.
func TestNoConnectionIsTakenWhileOneIsHeld(t *testing.T) {
	files, err := filepath.Glob("*.go")
	require.NoError(t, err)
	set := token.NewFileSet()
	methods := map[string]reach{}
	type holder struct {
		name, receiver string
		body           ast.Node
	}
	var holders []holder
	for _, name := range files {
		if strings.HasSuffix(name, "_test.go") {
			continue
		}
		f, err := parser.ParseFile(set, name, nil, 0)
		require.NoError(t, err)
		for _, d := range f.Decls {
			fn, ok := d.(*ast.FuncDecl)
			if !ok || fn.Recv == nil || len(fn.Recv.List[0].Names) == 0 || fn.Body == nil {
				continue
			}
			receiver := fn.Recv.List[0].Names[0].Name
			r := reach{calls: map[string]bool{}}
			ast.Inspect(fn.Body, func(n ast.Node) bool {
				switch s := selector(n, receiver); s {
				case "q", "pool", "tx":
					r.asksPool = true
				default:
					r.calls[s] = true
				}
				if call, ok := n.(*ast.CallExpr); ok && selector(call.Fun, receiver) == "tx" {
					holders = append(holders, holder{fn.Name.Name, receiver, call.Args[1]})
				}
				return true
			})
			for _, p := range fn.Type.Params.List {
				if star, ok := p.Type.(*ast.StarExpr); ok && selector(star.X, "store") == "Queries" {
					holders = append(holders, holder{fn.Name.Name, receiver, fn.Body})
				}
			}
			if fn.Name.Name != "tx" {
				methods[fn.Name.Name] = r
			}
		}
	}
	for changed := true; changed; {
		changed = false
		for name, r := range methods {
			for c := range r.calls {
				if !r.asksPool && methods[c].asksPool {
					r.asksPool, changed = true, true
					methods[name] = r
				}
			}
		}
	}
	require.True(t, methods["Run"].asksPool)
	require.Greater(t, len(holders), 30)
	for _, h := range holders {
		ast.Inspect(h.body, func(n ast.Node) bool {
			s := selector(n, h.receiver)
			if s == "q" || s == "pool" || s == "tx" || methods[s].asksPool {

				t.Errorf("%s: %s uses %s.%s while it holds a connection", set.Position(n.Pos()), h.name, h.receiver, s)
			}
			return true
		})
	}
}
