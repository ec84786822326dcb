package httpapi

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"slices"
	"strings"

	"github.com/getkin/kin-openapi/openapi3"
	"github.com/getkin/kin-openapi/openapi3filter"
	"github.com/getkin/kin-openapi/routers"
	"github.com/gin-gonic/gin"

	"uvent/core/record/record"
	"uvent/httpapi/api"
)

// What a request has at most where the contract does not say otherwise.
const (
	usualBytes      = 1 << 20
	usualCharacters = 20_000 // of a string
	usualItems      = 10_000 // of a list
)

// operation is one of the contract's, with what the gate has to know of it.
type operation struct {
	id    string
	open  bool             // without a session
	most  int64            // bytes of a body
	body  *openapi3.Schema // of a body in JSON; nil: there is none
	form  bool             // the body is a form with a file, which readUpload reads
	takes bool             // a body has to be there
	tells []string         // the properties of its answer that hold a secret
	route *routers.Route
}

// contract is what can be asked for, by method and by path as Gin writes it.
type contract map[string]*operation

func readContract() (contract, error) {
	spec, err := api.GetSpec()
	if err != nil {
		return nil, err
	}
	out := contract{}
	seen := map[*openapi3.Schema]bool{}
	for path, item := range spec.Paths.Map() {
		for method, op := range item.Operations() {
			o := &operation{
				id:    strings.ToLower(op.OperationID[:1]) + op.OperationID[1:], // the generator writes it with a capital
				open:  op.Security != nil && len(*op.Security) == 0,
				most:  usualBytes,
				route: &routers.Route{Spec: spec, Path: path, PathItem: item, Method: method, Operation: op},
			}
			if n, said := op.Extensions["x-most-bytes"].(float64); said {
				o.most = int64(n)
			}
			for _, p := range slices.Concat(item.Parameters, op.Parameters) {
				limit(p.Value.Schema, seen)
			}
			if b := op.RequestBody; b != nil {
				o.takes, o.form = b.Value.Required, b.Value.Content.Get("multipart/form-data") != nil
				if media := b.Value.Content.Get("application/json"); media != nil {
					limit(media.Schema, seen)
					o.body = media.Schema.Value
				}
			}
			for _, answer := range op.Responses.Map() {
				for _, media := range answer.Value.Content {
					o.tells = append(o.tells, secrets(media.Schema, map[*openapi3.Schema]bool{})...)
				}
			}
			out[method+" "+ginPath(path)] = o
		}
	}
	return out, nil
}

// of is the operation that a request asks for; nil where there is none.
func (k contract) of(c *gin.Context) *operation { return k[c.Request.Method+" "+c.FullPath()] }

// ginPath writes an OpenAPI path as Gin does.
func ginPath(path string) string { return strings.NewReplacer("{", ":", "}", "").Replace(path) }

// limit gives each string and each list of a schema the usual limits, where it names none.
func limit(ref *openapi3.SchemaRef, seen map[*openapi3.Schema]bool) {
	if ref == nil || ref.Value == nil || seen[ref.Value] {
		return
	}
	s := ref.Value
	seen[s] = true
	if most := uint64(usualCharacters); s.Type.Is("string") && s.MaxLength == nil {
		s.MaxLength = &most
	}
	if most := uint64(usualItems); s.Type.Is("array") && s.MaxItems == nil {
		s.MaxItems = &most
	}
	for _, p := range s.Properties {
		limit(p, seen)
	}
	limit(s.Items, seen)
	limit(s.AdditionalProperties.Schema, seen)
	for _, all := range []openapi3.SchemaRefs{s.AllOf, s.AnyOf, s.OneOf} {
		for _, one := range all {
			limit(one, seen)
		}
	}
}

// secrets are the properties of a schema that x-secret marks.
func secrets(ref *openapi3.SchemaRef, seen map[*openapi3.Schema]bool) (out []string) {
	if ref == nil || ref.Value == nil || seen[ref.Value] {
		return nil
	}
	s := ref.Value
	seen[s] = true
	for name, p := range s.Properties {
		if secret, _ := p.Value.Extensions["x-secret"].(bool); secret {
			out = append(out, name)
		}
		out = append(out, secrets(p, seen)...)
	}
	out = append(out, secrets(s.Items, seen)...)
	for _, all := range []openapi3.SchemaRefs{s.AllOf, s.AnyOf, s.OneOf} {
		for _, one := range all {
			out = append(out, secrets(one, seen)...)
		}
	}
	return out
}

// faultsOfParameters are those of the path and the query, each by its name.
func (o *operation) faultsOfParameters(ctx context.Context, c *gin.Context) (out []record.Problem) {
	in := &openapi3filter.RequestValidationInput{
		Request: c.Request, PathParams: map[string]string{}, Route: o.route,
		Options: &openapi3filter.Options{MultiError: true, SkipSettingDefaults: true},
	}
	for _, p := range c.Params {
		in.PathParams[p.Key] = p.Value
	}
	for _, p := range slices.Concat(o.route.PathItem.Parameters, o.route.Operation.Parameters) {
		if err := openapi3filter.ValidateParameter(ctx, in, p.Value); err != nil {
			faults := faultsOf(err)
			if faults == nil {
				faults = []record.Problem{{Message: "it cannot be read"}}
			}
			out = append(out, record.Problem{Path: p.Value.Name, Message: faults[0].Message})
		}
	}
	return out
}

// faultsOfBody are those of a body in JSON that can be read, each by its path.
func (o *operation) faultsOfBody(value any) []record.Problem {
	return faultsOf(o.body.VisitJSON(value, openapi3.MultiErrors()))
}

// faultsOf says in words how values are not as the contract has them; nil where that is not what is wrong.
func faultsOf(err error) (out []record.Problem) {
	var several openapi3.MultiError
	var one *openapi3.SchemaError
	var request *openapi3filter.RequestError
	switch {
	case err == nil:
	case errors.As(err, &several):
		for _, e := range several {
			out = append(out, faultsOf(e)...)
		}
	case errors.As(err, &one):
		out = append(out, record.Problem{Path: strings.Join(one.JSONPointer(), "."), Message: saidOf(one)})
	case errors.As(err, &request) && errors.Is(request.Err, openapi3filter.ErrInvalidRequired):
		out = append(out, record.Problem{Message: "it is missing"})
	}
	return out
}

// kinds are what JSON's types are called.
var kinds = map[string]string{
	"string": "text", "integer": "a whole number", "number": "a number", "boolean": "true or false", "array": "a list", "object": "an object",
}

func saidOf(e *openapi3.SchemaError) string {
	s := e.Schema
	switch e.SchemaField {
	case "required":
		return "it is missing"
	case "nullable":
		return "it may not be null"
	case "type":
		for kind, called := range kinds {
			if s.Type.Is(kind) {
				return "it has to be " + called
			}
		}
	case "enum":
		options := make([]string, len(s.Enum))
		for i, v := range s.Enum {
			options[i] = fmt.Sprint(v)
		}
		return "choose one of " + strings.Join(options, ", ")
	case "maxLength":
		return fmt.Sprintf("it has at most %d characters", *s.MaxLength)
	case "minLength":
		return fmt.Sprintf("it has at least %d characters", s.MinLength)
	case "maxItems":
		return fmt.Sprintf("it has at most %d entries", *s.MaxItems)
	case "minItems":
		return fmt.Sprintf("it has at least %d entries", s.MinItems)
	case "maximum":
		return fmt.Sprintf("it is at most %v", *s.Max)
	case "minimum":
		return fmt.Sprintf("it is at least %v", *s.Min)
	}
	return "it is not as the contract has it"
}

// GetContract tells this contract.
func (s *Server) GetContract(context.Context, api.GetContractRequestObject) (api.GetContractResponseObject, error) {
	spec, err := api.GetSpec()
	if err != nil {
		return nil, err
	}
	var out api.GetContract200JSONResponse
	b, err := json.Marshal(spec)
	if err == nil {
		err = json.Unmarshal(b, &out)
	}
	return out, err
}
