package finding

import (
	"go/ast"
	"go/parser"
	"go/token"
	"io/fs"
	"regexp"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Every key under which the rules say something has words that take as many parts, and
// no words are left over.
func TestWords(t *testing.T) {
	parsed, err := parser.ParseDir(
		token.NewFileSet(),
		".",
		func(f fs.FileInfo) bool { return !strings.HasSuffix(f.Name(), "_test.go") },
		0,
	)
	require.NoError(t, err)
	verb := regexp.MustCompile(`%[-+.0-9]*[a-z]`)
	first := map[string]int{"say": 0, "mend": 0, "note": 3} // where the key stands
	said := map[string]bool{}
	ast.Inspect(parsed["finding"], func(n ast.Node) bool {
		call, ok := n.(*ast.CallExpr)
		if !ok {
			return true
		}
		name := ""
		switch f := call.Fun.(type) {
		case *ast.Ident:
			name = f.Name
		case *ast.SelectorExpr:
			name = f.Sel.Name
		}
		at, says := first[name]
		if !says || len(call.Args) <= at {
			return true
		}
		if literal, ok := call.Args[at].(*ast.BasicLit); ok && !call.Ellipsis.IsValid() || ok && name == "mend" {
			key, _ := strconv.Unquote(literal.Value)
			said[key] = true
			parts := len(call.Args) - at - 1
			if name == "mend" { // what follows are operations
				parts = 0
			}
			if assert.Contains(t, sayings, key) {
				assert.Len(t, verb.FindAllString(sayings[key], -1), parts, "%s: %s", key, sayings[key])
			}
		}
		return true
	})
	for key := range sayings {
		assert.True(t, said[key], "nothing says %s", key)
	}
}
