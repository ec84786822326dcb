package uvent

import (
	"encoding/json"
	"flag"
	"fmt"
	"go/ast"
	"go/parser"
	"go/token"
	"io/fs"
	"os"
	"os/exec"
	"path"
	"regexp"
	"slices"
	"strconv"
	"strings"
	"testing"
	"unicode"
)

var update = flag.Bool("update", false, "write docs/sentences.md anew")

// saying is a sentence, or a part of one, that the program may say.
type saying struct {
	Room string `json:"room"` // the folder
	Of   string `json:"of"`   // the function that says it, or the part of the screen
	Text string `json:"text"`
}

const sentencesHead = `# What Uvent says

All that the program says to people, by where it says it, so that it can be read at one go. A %s or %d stands for what is filled in,
as … does on the screens. Mend a sentence where it stands in the code, and run ` + "`make sentences`" + `.
`

// All sentences stand in docs/sentences.md, where a person reads them together; and none says something in a way that
// people do not.
func TestAllThatIsSaidStandsInTheCatalogue(t *testing.T) {
	all := append(sayingsInGo(t), sayingsOnScreens(t)...)
	slices.SortStableFunc(all, func(a, b saying) int { return strings.Compare(a.Room, b.Room) })
	if len(all) < 1500 {
		t.Fatalf("only %d sentences were found", len(all))
	}
	for _, s := range all {
		for pattern, why := range awkward {
			if pattern.MatchString(s.Text) && s.Room != "core/fact/hours" { // where the format of opening hours is explained
				t.Errorf("%s, %s: %q %s", s.Room, s.Of, s.Text, why)
			}
		}
	}
	var b strings.Builder
	b.WriteString(sentencesHead)
	room, of := "", ""
	for _, s := range all {
		if s.Room != room {
			fmt.Fprintf(&b, "\n## %s\n", s.Room)
			room, of = s.Room, ""
		}
		if s.Of != of {
			fmt.Fprintf(&b, "\n**%s**\n\n", s.Of)
			of = s.Of
		}
		fmt.Fprintf(&b, "- %s\n", strings.ReplaceAll(s.Text, "\n", " ⏎ "))
	}
	const file = "docs/sentences.md"
	if *update {
		if err := os.WriteFile(file, []byte(b.String()), 0o644); err != nil {
			t.Fatal(err)
		}
		return
	}
	have, err := os.ReadFile(file)
	if err != nil {
		t.Fatal(err)
	}
	known, now := strings.Split(string(have), "\n"), strings.Split(b.String(), "\n")
	for _, line := range now {
		if !slices.Contains(known, line) {
			t.Errorf("%s does not have %q; read it, then run make sentences", file, line)
		}
	}
	for _, line := range known {
		if !slices.Contains(now, line) {
			t.Errorf("%s has %q, which nothing says; run make sentences", file, line)
		}
	}
}

// awkward are ways of saying something that are not ours, with what is.
var awkward = map[*regexp.Regexp]string{
	regexp.MustCompile(`\b(19|20)\d\d (Jan|Feb|Mar|Apr|May|Jun|Jul|Aug|Sep|Oct|Nov|Dec) \d`): "writes a date as no person does; write Thu 26 Nov 2026",
	regexp.MustCompile(`\bin a hundred\b|\bof a hundred\b`):                                  "tells a chance to the hundredth; say about 9 in 10",
	regexp.MustCompile(`\b1 (values|photos|listings|locations|days|hours|minutes)\b`):        "counts one as several",
	regexp.MustCompile(`(?i)\b(please note|simply|successfully|oops|sorry)\b`):               "says more than it needs to",
	regexp.MustCompile(`[a-z]\.\.\.|!!|\?!`):                                                 "shouts, or trails off; an ellipsis is …",
}

// notSaid are folders whose texts are no sentences of the program to people who work with it.
var notSaid = []string{"outside", "e2e", "demo", "store", "tools", "rulebooks", "httpapi/api", "web"}

func sayingsInGo(t *testing.T) (out []saying) {
	t.Helper()
	err := fs.WalkDir(os.DirFS("."), ".", func(name string, d fs.DirEntry, err error) error {
		if err != nil || d.IsDir() {
			if slices.Contains(notSaid, name) || strings.HasPrefix(name, ".") && name != "." || name == "bin" || d != nil && d.Name() == "testdata" {
				return fs.SkipDir
			}
			return err
		}
		if !strings.HasSuffix(name, ".go") || strings.HasSuffix(name, "_test.go") {
			return nil
		}
		file, err := parser.ParseFile(token.NewFileSet(), name, nil, parser.SkipObjectResolution)
		if err != nil {
			return err
		}
		for _, decl := range file.Decls {
			of := "what stands by itself"
			if f, ok := decl.(*ast.FuncDecl); ok {
				of = f.Name.Name
			}
			says(decl, func(text string) {
				if isSentence(text) {
					out = append(out, saying{path.Dir(name), of, strings.TrimSpace(text)})
				}
			})
		}
		return nil
	})
	if err != nil {
		t.Fatal(err)
	}
	return out
}

// says passes each text of a declaration on, what is joined with others as one.
func says(n ast.Node, to func(string)) {
	ast.Inspect(n, func(n ast.Node) bool {
		switch n := n.(type) {
		case *ast.Field, *ast.ImportSpec:
			return false
		case *ast.BinaryExpr:
			text := joined(n, to)
			to(text)
			return false
		case *ast.BasicLit:
			if n.Kind == token.STRING {
				to(joined(n, to))
			}
		}
		return true
	})
}

// joined is a text of several parts; … stands for one that is filled in, of which the texts are passed on.
func joined(e ast.Expr, to func(string)) string {
	switch e := e.(type) {
	case *ast.BasicLit:
		if text, err := strconv.Unquote(e.Value); e.Kind == token.STRING && err == nil {
			return text
		}
	case *ast.BinaryExpr:
		if e.Op == token.ADD {
			return joined(e.X, to) + joined(e.Y, to)
		}
		says(e.X, to)
		says(e.Y, to)
		return "…"
	}
	says(e, to)
	return "…"
}

var (
	query = regexp.MustCompile(`(?i)^\s*(select|insert|update|delete|alter|create|drop|with|lock|truncate|listen|notify|set) `)
	code  = regexp.MustCompile("[{}`\\\\^$<>=|]|://|\\(\\?|::")
)

// isSentence reports whether a text is something that is said: a few words, or one with its full stop.
func isSentence(s string) bool {
	s = strings.TrimSpace(s)
	words, letters := strings.Fields(s), 0
	for _, r := range s {
		if unicode.IsLetter(r) || r == ' ' {
			letters++
		}
	}
	n := len([]rune(s))
	ended := strings.HasSuffix(s, ".") || strings.HasSuffix(s, "?")
	few := len(words) < 2 || len(words) == 2 && !ended
	return !few && n < 600 && letters*10 >= n*7 && !query.MatchString(s) && !code.MatchString(s)
}

// sayingsOnScreens asks the compiler of the front end what its files say.
func sayingsOnScreens(t *testing.T) (out []saying) {
	t.Helper()
	data, err := exec.Command("node", "tools/sentences.mjs").Output()
	if err != nil {
		t.Fatalf("%v", err)
	}
	if err := json.Unmarshal(data, &out); err != nil {
		t.Fatal(err)
	}
	return slices.DeleteFunc(out, func(s saying) bool { return !isSentence(s.Text) })
}
