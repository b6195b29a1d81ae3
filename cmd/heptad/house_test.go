package main

import (
	"bytes"
	"go/ast"
	"go/parser"
	"go/token"
	"io/fs"
	"os"
	"path/filepath"
	"regexp"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// How large a file, a component and a type may grow before they are cut at their
// concepts; tables of data may be longer.
const (
	mostLines     = 400
	mostComponent = 300
	mostMethods   = 70
)

// tables are files that list data.
var tables = map[string]bool{"internal/core/finding/codes.go": true, "internal/core/refusal/codes.go": true}

// sources calls f for every file of the program with an ending, tests and what is
// generated left out.
func sources(t *testing.T, ending string, f func(path string, data []byte)) {
	t.Helper()
	root := os.DirFS("../..")
	for _, dir := range []string{"cmd", "internal", "web/src"} {
		require.NoError(t, fs.WalkDir(root, dir, func(path string, entry fs.DirEntry, err error) error {
			if err != nil || entry.IsDir() || !strings.HasSuffix(path, ending) || strings.HasSuffix(path, "_test.go") || tables[path] {
				return err
			}
			data, err := fs.ReadFile(root, path)
			f(filepath.ToSlash(path), data)
			return err
		}))
	}
}

func receiver(d ast.Decl) string {
	f, ok := d.(*ast.FuncDecl)
	if !ok || f.Recv == nil {
		return ""
	}
	kind := f.Recv.List[0].Type
	if p, ok := kind.(*ast.StarExpr); ok {
		kind = p.X
	}
	if name, ok := kind.(*ast.Ident); ok {
		return name.Name
	}
	return "" // generic: small
}

func TestNothingGrowsTooLarge(t *testing.T) {
	methods := map[string]int{}
	sources(t, ".go", func(path string, data []byte) {
		assert.LessOrEqual(t, bytes.Count(data, []byte("\n")), mostLines, "%s is too long: cut it at its concepts", path)
		file, err := parser.ParseFile(token.NewFileSet(), path, data, 0)
		require.NoError(t, err)
		for _, d := range file.Decls {
			if name := receiver(d); name != "" {
				methods[filepath.Dir(path)+" "+name]++
			}
		}
	})
	for name, n := range methods {
		assert.LessOrEqual(t, n, mostMethods, "%s has too many methods", name)
	}
	sources(t, ".svelte", func(path string, data []byte) {
		assert.LessOrEqual(t, bytes.Count(data, []byte("\n")), mostComponent, "%s is too long: cut it at its concepts", path)
	})
}

// A service of work knows the kernel and no other service, and a handler set of
// web what all share and no other set; the office and the routes put them
// together.
func TestServicesDoNotKnowEachOther(t *testing.T) {
	together := map[string]bool{"internal/work/office.go": true, "internal/web/handlers.go": true, "internal/web/routes.go": true}
	services := map[string][]string{
		"internal/work": {"Asking", "Following", "Deciding", "Delivering", "Designing", "Rehearsing", "Messaging", "Connecting", "Entering", "Keeping", "Auditing", "Measuring", "Running"},
		"internal/web":  {"asking", "following", "deciding", "delivering", "designing", "rehearsing", "messaging", "managing", "entering", "keeping", "auditing", "measuring"},
	}
	sources(t, ".go", func(path string, data []byte) {
		names := services[filepath.ToSlash(filepath.Dir(path))]
		if names == nil || together[path] {
			return
		}
		file, err := parser.ParseFile(token.NewFileSet(), path, data, 0)
		require.NoError(t, err)
		for _, d := range file.Decls {
			if f, ok := d.(*ast.FuncDecl); ok {
				f.Recv = nil // its own
			}
			ast.Inspect(d, func(n ast.Node) bool {
				var of ast.Expr
				switch n := n.(type) {
				case *ast.StarExpr:
					of = n.X
				case *ast.CompositeLit:
					of = n.Type
				}
				if name, ok := of.(*ast.Ident); ok && slices.Contains(names, name.Name) && !strings.HasPrefix(filepath.Base(path), strings.ToLower(name.Name)) {
					t.Errorf("%s knows %s", path, name.Name)
				}
				return true
			})
		}
	})
}

// The rooms of docs/architecture.md: what each may know besides itself. The page
// is alike: "ui" knows no desk, and a desk no other, but that Design shows forms.
func TestRoomsKnowOnlyThoseBelow(t *testing.T) {
	know := map[string][]string{
		"core": {}, "simulate": {}, "signin": {}, "store": {"core"}, "connect": {"core", "simulate"}, "starter": {"core"},
		"work": {"core", "store", "connect", "starter", "signin"}, "web": {"core", "connect", "starter", "signin", "work"},
		"doctor": {"core", "store"},
		"demo":   {"core", "store", "simulate", "connect", "work"},
		"load":   {"core", "store", "connect", "work", "web", "demo"},
		"ui":     {"api"}, "ask": {"api", "ui"}, "follow": {"api", "ui"}, "deliver": {"api", "ui"}, "calendar": {"api", "ui"}, "measure": {"api", "ui"},
		"manage": {"api", "ui"}, "enter": {"api", "ui"}, "form": {"api", "ui"}, "design": {"api", "ui", "form"},
	}
	check := func(ending, in string, imports *regexp.Regexp) {
		sources(t, ending, func(path string, data []byte) {
			rest, inside := strings.CutPrefix(path, in)
			room, _, nested := strings.Cut(rest, "/")
			if !inside || !nested || room == "api" {
				return
			}
			for _, of := range imports.FindAllStringSubmatch(string(data), -1) {
				assert.Contains(t, append(know[room], room), of[1], "%s: what it imports", path)
			}
		})
	}
	check(".go", "internal/", regexp.MustCompile(`"heptad/internal/([a-z]+)`))
	for _, ending := range []string{".svelte", ".ts"} {
		check(ending, "web/src/lib/", regexp.MustCompile(`'\$lib/([a-z]+)/`))
	}
}
