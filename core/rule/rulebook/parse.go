package rulebook

import (
	"bytes"
	_ "embed"
	"encoding/json"
	"errors"
	"fmt"
	"slices"
	"strings"

	"github.com/goccy/go-yaml"
	"github.com/goccy/go-yaml/ast"
	"github.com/goccy/go-yaml/parser"
	"github.com/santhosh-tekuri/jsonschema/v6"
	"github.com/santhosh-tekuri/jsonschema/v6/kind"

	"uvent/core/fact/prose"
)

//go:embed schema.json
var schemaText []byte

// Schema is the JSON Schema of rulebooks (draft 2020-12), as a file.
func Schema() []byte { return bytes.Clone(schemaText) }

var schemaDoc = func() any {
	doc, err := jsonschema.UnmarshalJSON(bytes.NewReader(schemaText))
	if err != nil {
		panic(err)
	}
	return doc
}()

var schema = func() *jsonschema.Schema {
	c := jsonschema.NewCompiler()
	if err := c.AddResource("rulebook.json", schemaDoc); err != nil {
		panic(err)
	}
	return c.MustCompile("rulebook.json")
}()

// Problem is a mistake in a rulebook file.
type Problem struct {
	File    string
	Line    int    // counted from 1
	Path    string // where in the file: verification.0.code.digits
	Message string
}

func (p Problem) Error() string {
	if p.Path == "" {
		return fmt.Sprintf("%s:%d: %s", p.File, p.Line, p.Message)
	}
	return fmt.Sprintf("%s:%d: %s: %s", p.File, p.Line, p.Path, p.Message)
}

// Parse reads and checks one rulebook; file is its name, for the problems. The
// rulebook is good when there are none.
func Parse(file string, data []byte) (Rulebook, []Problem) {
	if problems := hostile(file, data); problems != nil {
		return Rulebook{}, problems
	}
	tree, err := parser.ParseBytes(data, 0)
	if err != nil {
		return Rulebook{}, []Problem{syntaxProblem(file, err)}
	}
	if len(tree.Docs) != 1 || tree.Docs[0].Body == nil {
		return Rulebook{}, []Problem{{file, 1, "", "a rulebook is one YAML document with keys such as id, name and facts"}}
	}
	lines := linesOf(tree.Docs[0].Body)
	var value any
	if err := yaml.Unmarshal(data, &value); err != nil {
		return Rulebook{}, []Problem{syntaxProblem(file, err)}
	}
	if problems := checkSchema(value); problems != nil {
		return Rulebook{}, place(file, lines, problems)
	}
	var r Rulebook
	if err := yaml.UnmarshalWithOptions(data, &r, yaml.DisallowUnknownField()); err != nil {
		return Rulebook{}, []Problem{syntaxProblem(file, err)}
	}
	if problems := r.check(); problems != nil {
		return Rulebook{}, place(file, lines, problems)
	}
	r.Source = string(data)
	r.Categories.settle()
	place := r.Calendar.Place()
	r.Calendar.settled = &place
	return r, nil
}

// mostMessage bounds what a reader of YAML says, which may repeat the whole file.
const mostMessage = 200

func syntaxProblem(file string, err error) Problem {
	p := Problem{File: file, Line: 1, Message: err.Error()}
	var bad yaml.Error
	if errors.As(err, &bad) {
		p.Message = bad.GetMessage()
		if short, cut := prose.Cut(p.Message, mostMessage); cut {
			p.Message = short
		}
		if t := bad.GetToken(); t != nil && t.Position != nil {
			p.Line = t.Position.Line
		}
	}
	return p
}

// linesOf maps the path of each value in the file to its line.
func linesOf(body ast.Node) map[string]int {
	lines := map[string]int{}
	var walk func(path string, n ast.Node)
	walk = func(path string, n ast.Node) {
		if _, known := lines[path]; !known {
			lines[path] = n.GetToken().Position.Line
		}
		switch n := n.(type) {
		case *ast.MappingNode:
			for _, v := range n.Values {
				walk(path, v)
			}
		case *ast.MappingValueNode:
			at := join(path, n.Key.GetToken().Value)
			lines[at] = n.Key.GetToken().Position.Line
			walk(at, n.Value)
		case *ast.SequenceNode:
			for i, v := range n.Values {
				walk(join(path, fmt.Sprint(i)), v)
			}
		}
	}
	walk("", body)
	return lines
}

func join(path, key string) string {
	if path == "" {
		return key
	}
	return path + "." + key
}

// place gives problems their file and line: that of the value, or of the
// nearest thing around it that is in the file.
func place(file string, lines map[string]int, problems []Problem) []Problem {
	for i := range problems {
		p := &problems[i]
		p.File, p.Line = file, 1
		for at := p.Path; ; {
			if line, ok := lines[at]; ok {
				p.Line = line
				break
			}
			cut := strings.LastIndexByte(at, '.')
			if cut < 0 {
				break
			}
			at = at[:cut]
		}
	}
	slices.SortStableFunc(problems, func(a, b Problem) int { return a.Line - b.Line })
	return problems
}

func checkSchema(value any) []Problem {
	// Through JSON, so that YAML's own number and map types do not matter.
	raw, err := json.Marshal(value)
	if err != nil {
		return []Problem{{Message: "keys must be plain text: " + err.Error()}}
	}
	doc, err := jsonschema.UnmarshalJSON(bytes.NewReader(raw))
	if err != nil {
		return []Problem{{Message: err.Error()}}
	}
	var bad *jsonschema.ValidationError
	if err := schema.Validate(doc); !errors.As(err, &bad) {
		return nil
	}
	var out []Problem
	var walk func(e *jsonschema.ValidationError)
	walk = func(e *jsonschema.ValidationError) {
		_, either := e.ErrorKind.(*kind.OneOf)
		if len(e.Causes) == 0 || either {
			out = append(out, remedies(e)...)
			return
		}
		for _, c := range e.Causes {
			walk(c)
		}
	}
	walk(bad)
	return out
}
