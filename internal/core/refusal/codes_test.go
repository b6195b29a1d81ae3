package refusal_test

import (
	"flag"
	"fmt"
	"go/ast"
	"go/parser"
	"go/token"
	"io/fs"
	"os"
	"path/filepath"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

var update = flag.Bool("update", false, "write the list of codes into docs")

const (
	root = "../../.."
	docs = root + "/docs/codes.md"
)

// code is one of a file of codes, with what its comment says of it.
type code struct{ name, value, says string }

func codesIn(t *testing.T, path string) (all []code) {
	t.Helper()
	file, err := parser.ParseFile(token.NewFileSet(), path, nil, parser.ParseComments)
	require.NoError(t, err)
	for _, d := range file.Decls {
		list, ok := d.(*ast.GenDecl)
		if !ok || list.Tok != token.CONST {
			continue
		}
		for _, s := range list.Specs {
			spec := s.(*ast.ValueSpec)
			value, err := strconv.Unquote(spec.Values[0].(*ast.BasicLit).Value)
			require.NoError(t, err)
			all = append(all, code{spec.Names[0].Name, value, spec.Doc.Text()})
		}
	}
	return all
}

// list writes codes as docs list them: a line for each sentence.
func list(all []code) string {
	var b strings.Builder
	for _, c := range all {
		says := strings.ReplaceAll(strings.TrimPrefix(c.says, c.name+": "), "\n", " ")
		says = strings.NewReplacer(" Or: ", " / ", " Such as: ", " – such as: ", "|", "\\|", "%%", "%").Replace(strings.TrimSpace(says))
		fmt.Fprintf(&b, "| `%s` | %s |\n", c.value, says)
	}
	return b.String()
}

// Each code stands in its file with its sentence, is used, and is listed in docs;
// what is found or refused names it from there.
func TestCodes(t *testing.T) {
	findings, refusals := codesIn(t, "../finding/codes.go"), codesIn(t, "codes.go")
	want := "# Codes\n\nStable names of what Heptad tells people, for programs that read its answers. `%q`, `%s`, `%d` stand for what is\n" +
		"there. Made from `internal/core/finding/codes.go` and `internal/core/refusal/codes.go`.\n\n" +
		"## Of findings: what is wrong with an offering\n| Code | Says |\n|---|---|\n" + list(findings) +
		"\n## Of refusals, and of problems of an answer\n| Code | Says |\n|---|---|\n" + list(refusals)
	if *update {
		require.NoError(t, os.WriteFile(docs, []byte(want), 0o644))
	}
	listed, err := os.ReadFile(docs)
	require.NoError(t, err)
	assert.Equal(t, want, string(listed), "run the tests of this package with -update")

	used, written := uses(t)
	assert.Empty(t, written, "these are written where they are used")
	for pkg, all := range map[string][]code{"finding": findings, "refusal": refusals} {
		for _, c := range all {
			assert.True(t, strings.HasPrefix(c.says, c.name+": "), "%s says nothing", c.name)
			assert.True(t, used[pkg+"."+c.name], "%s.%s is nowhere used", pkg, c.name)
		}
	}
}

// takers are the functions whose first argument is a code.
var takers = map[string]bool{"Error": true, "Warning": true, "Hint": true, "error": true, "problem": true, "conflict": true, "invalid": true, "refusedFile": true}

// uses reads the program: which codes it names, and where it writes one itself.
func uses(t *testing.T) (used map[string]bool, written []string) {
	t.Helper()
	used = map[string]bool{}
	read := func(path string, entry fs.DirEntry, err error) error {
		if err != nil || entry.IsDir() || !strings.HasSuffix(path, ".go") || strings.HasSuffix(path, "_test.go") {
			return err
		}
		set := token.NewFileSet()
		file, err := parser.ParseFile(set, path, nil, parser.SkipObjectResolution)
		if err != nil {
			return err
		}
		literal := func(e ast.Expr) {
			if b, ok := e.(*ast.BasicLit); ok && b.Kind == token.STRING {
				written = append(written, set.Position(b.Pos()).String())
			}
		}
		ast.Inspect(file, func(n ast.Node) bool {
			switch n := n.(type) {
			case *ast.SelectorExpr:
				if pkg, ok := n.X.(*ast.Ident); ok {
					used[pkg.Name+"."+n.Sel.Name] = true
				}
			case *ast.CallExpr:
				name := ""
				switch f := n.Fun.(type) {
				case *ast.Ident:
					name = f.Name
				case *ast.SelectorExpr:
					if on, ok := f.X.(*ast.SelectorExpr); !ok || on.Sel.Name != "Log" && on.Sel.Name != "log" {
						name = f.Sel.Name
					}
				}
				if takers[name] && len(n.Args) > 2 {
					literal(n.Args[0])
				}
			case *ast.KeyValueExpr:
				if key, ok := n.Key.(*ast.Ident); ok && key.Name == "Code" {
					literal(n.Value)
				}
			}
			return true
		})
		return nil
	}
	for _, dir := range []string{"internal", "cmd"} {
		require.NoError(t, filepath.WalkDir(filepath.Join(root, dir), read))
	}
	return used, written
}
