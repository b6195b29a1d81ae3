package request_test

import (
	"encoding/json"
	"go/ast"
	"go/parser"
	"go/token"
	"os"
	"reflect"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"heptad/internal/core/request"
)

// Every body of an event has its row in the table, under a name of its own, and is
// read back as what it is. That it is applied and told, the compiler sees.
func TestEachEventHasItsRow(t *testing.T) {
	listed := map[string]bool{}
	for _, body := range request.Bodies() {
		listed[reflect.TypeOf(body).Name()] = true
		kind := request.Event{Body: body}.Kind()
		data, err := json.Marshal(body)
		require.NoError(t, err)
		again, err := request.DecodeBody(kind, data)
		require.NoError(t, err, kind)
		assert.IsType(t, body, again, kind)
	}
	assert.Equal(t, receivers(t, "apply"), listed)
	_, err := request.DecodeBody("foretellings", nil)
	assert.Error(t, err)
}

// receivers are the types of the package that have a method.
func receivers(t *testing.T, method string) map[string]bool {
	all := map[string]bool{}
	entries, err := os.ReadDir(".")
	require.NoError(t, err)
	for _, entry := range entries {
		if !strings.HasSuffix(entry.Name(), ".go") || strings.HasSuffix(entry.Name(), "_test.go") {
			continue
		}
		file, err := parser.ParseFile(token.NewFileSet(), entry.Name(), nil, 0)
		require.NoError(t, err)
		for _, decl := range file.Decls {
			if f, ok := decl.(*ast.FuncDecl); ok && f.Recv != nil && f.Name.Name == method {
				if name, ok := f.Recv.List[0].Type.(*ast.Ident); ok {
					all[name.Name] = true
				}
			}
		}
	}
	return all
}

// Every command stands in the list; what is offered to people is of it, by
// construction.
func TestEachCommandIsListed(t *testing.T) {
	listed := map[string]bool{}
	for _, c := range request.Commands() {
		listed[reflect.TypeOf(c).Name()] = true
	}
	assert.Equal(t, receivers(t, "do"), listed)
}
