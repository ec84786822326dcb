package httpapi_test

import (
	"bytes"
	"encoding/json"
	"os"
	"regexp"
	"strings"
	"testing"

	"github.com/getkin/kin-openapi/openapi3"

	"uvent/e2e/rig"
	"uvent/httpapi/api"
)

// The generated server and the front end's types are those of the contract as
// it is written.
func TestGeneratedCodeIsOfThisContract(t *testing.T) {
	written, err := openapi3.NewLoader().LoadFromFile("openapi.yaml")
	rig.Must(t, err)
	generated, err := api.GetSpec()
	rig.Must(t, err)
	a, err := json.Marshal(written)
	rig.Must(t, err)
	b, err := json.Marshal(generated)
	rig.Must(t, err)
	// The generator writes operations as Go names: getClients as GetClients.
	if !bytes.EqualFold(a, b) {
		t.Error("api.gen.go was made from another openapi.yaml; run make generate")
	}
	types, err := os.ReadFile("../web/src/api/schema.gen.ts")
	rig.Must(t, err)
	for path, item := range written.Paths.Map() {
		if !strings.Contains(string(types), `"`+path+`": {`) {
			t.Errorf("schema.gen.ts does not know %s; run make generate", path)
		}
		for _, op := range item.Operations() {
			if !regexp.MustCompile(`\n    ` + op.OperationID + `: \{`).Match(types) {
				t.Errorf("schema.gen.ts does not know %s; run make generate", op.OperationID)
			}
		}
	}
	for name, schema := range written.Components.Schemas {
		_, rest, found := strings.Cut(string(types), "\n        "+name+": ")
		if !found {
			t.Errorf("schema.gen.ts does not know the schema %s; run make generate", name)
			continue
		}
		body, _, _ := strings.Cut(rest, "\n        };")
		for property := range schema.Value.Properties {
			if !regexp.MustCompile(`\b` + property + `\??:`).MatchString(body) {
				t.Errorf("schema.gen.ts does not know %s.%s; run make generate", name, property)
			}
		}
	}
}

// Every operation says what it does, and every refusal has the shape of a problem.
func TestTheContractIsWhole(t *testing.T) {
	spec, err := api.GetSpec()
	rig.Must(t, err)
	rig.Must(t, spec.Validate(t.Context()))
	seen := map[string]bool{}
	for path, item := range spec.Paths.Map() {
		for method, op := range item.Operations() {
			if op.OperationID == "" || op.Summary == "" || seen[op.OperationID] {
				t.Errorf("%s %s: operation %q, summary %q", method, path, op.OperationID, op.Summary)
			}
			seen[op.OperationID] = true
			if path == "/api/sign-in" {
				continue // it cannot be refused
			}
			refusal := op.Responses.Default()
			if refusal == nil || refusal.Value.Content.Get("application/problem+json") == nil {
				t.Errorf("%s %s says nothing of refusals", method, path)
			}
		}
	}
}
