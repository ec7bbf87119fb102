package httpapi_test

import (
	"reflect"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/getkin/kin-openapi/openapi3"
	"github.com/stretchr/testify/require"

	"dynacor/core/calc"
	"dynacor/core/tool"
	"dynacor/internal/app"
	"dynacor/internal/device"
	"dynacor/internal/httpapi"
)

// The contract names Go types of core and app for its schemas. This holds both sides to the same fields.
func TestContractAndGoTypesAgree(t *testing.T) {
	doc, err := httpapi.GetSpec()
	require.NoError(t, err)
	seen := map[reflect.Type]bool{}
	for name, v := range map[string]any{"JointDetail": app.JointDetail{}, "ProcedureDetail": app.ProcedureDetail{},
		"ProcedureTrial": app.ProcedureTrial{}, "ProcedureInput": app.ProcedureInput{}, "JointPage": app.JointPage{},
		"JointInput": app.JointInput{}, "RunView": app.RunView{}, "Appended": app.Appended{},
		"SignatureInput": app.SignatureInput{},
		"RecordPage":     app.RecordPage{}, "RecordView": app.RecordView{}, "Verification": app.Verification{},
		"ToolDetail": app.ToolDetail{}, "Crib": app.Crib{}, "FindInput": app.FindInput{}, "Found": app.Found{},
		"KindView": tool.KindView{}, "DeviceResult": app.DeviceResult{}, "DeviceTarget": device.Target{},
		"Library": app.Library{}, "Today": app.Today{}, "PackageRow": app.PackageRow{}, "Need": app.Need{},
		"ImportResult": app.ImportResult{}, "UndoResult": app.UndoResult{}, "ImportedRow": app.ImportedRow{}, "BackupRow": app.BackupRow{},
		"DeviceRow": app.DeviceRow{}, "DeviceChange": app.DeviceChange{},
		"LibraryHistory":    app.LibraryHistory{},
		"HouseRulesHistory": app.HouseRulesHistory{}, "HouseRulesInput": app.HouseRulesInput{},
		"Described": calc.Described{}, "CalculationRequest": calc.Request{}, "CalculationAnswer": calc.Answer{}} {
		agree(t, doc, name, reflect.TypeOf(v), seen)
	}
	require.Greater(t, len(seen), 45)
}

func agree(t *testing.T, doc *openapi3.T, name string, typ reflect.Type, seen map[reflect.Type]bool) {
	t.Helper()
	if seen[typ] {
		return
	}
	seen[typ] = true
	ref := doc.Components.Schemas[name]
	require.NotNil(t, ref, "the contract has no schema %s for %s", name, typ)
	schema := ref.Value
	var fields []string
	for _, f := range reflect.VisibleFields(typ) {
		key, opt, _ := strings.Cut(f.Tag.Get("json"), ",")
		if key == "-" || f.Anonymous || !f.IsExported() { // never leaves the server, or its own fields do
			continue
		}
		fields = append(fields, key)
		prop := schema.Properties[key]
		if prop == nil {
			t.Errorf("%s.%s is not in the contract", typ, key)
			continue
		}
		if required := slices.Contains(schema.Required, key); required == (opt == "omitempty") {
			t.Errorf("%s.%s: required in the contract %v, left out when empty in Go %v", typ, key, required,
				opt == "omitempty")
		}
		walk(t, doc, typ.String()+"."+key, prop, f.Type, seen)
	}
	for key := range schema.Properties {
		if !slices.Contains(fields, key) {
			t.Errorf("%s of the contract is not a field of %s", key, typ)
		}
	}
}

func walk(t *testing.T, doc *openapi3.T, where string, ref *openapi3.SchemaRef, typ reflect.Type,
	seen map[reflect.Type]bool) {
	t.Helper()
	want := ""
	switch {
	case typ == reflect.TypeFor[time.Time]():
		want = "string"
	case typ.Kind() == reflect.Interface: // whatever JSON can hold
		return
	case typ.Kind() == reflect.Pointer:
		walk(t, doc, where, ref, typ.Elem(), seen)
		return
	case typ.Kind() == reflect.Struct:
		agree(t, doc, ref.Ref[strings.LastIndex(ref.Ref, "/")+1:], typ, seen)
		return
	case typ.Kind() == reflect.Slice || typ.Kind() == reflect.Array:
		want = "array"
		if ref.Value.Items != nil {
			walk(t, doc, where+"[]", ref.Value.Items, typ.Elem(), seen)
		}
	case typ.Kind() == reflect.Map:
		want = "object"
	default:
		want = map[reflect.Kind]string{reflect.String: "string", reflect.Bool: "boolean", reflect.Int: "integer",
			reflect.Float64: "number"}[typ.Kind()]
	}
	if !ref.Value.Type.Is(want) {
		t.Errorf("%s is %v in the contract, %s in Go", where, ref.Value.Type, want)
	}
}
