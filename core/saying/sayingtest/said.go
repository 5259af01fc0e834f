// Package sayingtest tests that words are whole.
package sayingtest

import (
	"go/ast"
	"go/parser"
	"go/token"
	"path/filepath"
	"regexp"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"omphalos/core/saying"
)

// Said tests that every key under which the package that is tested says something has words
// that take as many parts, and that no words are left over. Sayers are the functions that
// are given a key, with its place among their arguments; parts follow it, but for those of
// a negative place, counted from −1, which take none.
func Said(t *testing.T, words saying.Table, sayers map[string]int) {
	t.Helper()
	files, err := filepath.Glob("*.go")
	require.NoError(t, err)
	verb := regexp.MustCompile(`%[-+.0-9]*[a-z]`)
	said := map[string]bool{}
	look := func(n ast.Node) bool {
		call, ok := n.(*ast.CallExpr)
		if !ok {
			return true
		}
		at, says := sayers[called(call)]
		alone := at < 0
		if alone {
			at = -at - 1
		}
		if !says || len(call.Args) <= at {
			return true
		}
		literal, ok := call.Args[at].(*ast.BasicLit)
		if !ok {
			return true
		}
		key, err := strconv.Unquote(literal.Value)
		require.NoError(t, err)
		said[key] = true
		parts := len(call.Args) - at - 1
		if alone {
			parts = 0
		}
		assert.Len(t, verb.FindAllString(words[key], -1), parts, "%s: %q", key, words[key])
		return true
	}
	for _, name := range files {
		if strings.HasSuffix(name, "_test.go") {
			continue
		}
		file, err := parser.ParseFile(token.NewFileSet(), name, nil, 0)
		require.NoError(t, err)
		ast.Inspect(file, look)
	}
	for key := range said {
		assert.NotEmpty(t, words[key], "there are no words for %s", key)
	}
	for key := range words {
		assert.True(t, said[key], "nothing says %s", key)
	}
}

// called returns the name of the function or the method that is called.
func called(c *ast.CallExpr) string {
	switch f := c.Fun.(type) {
	case *ast.Ident:
		return f.Name
	case *ast.SelectorExpr:
		return f.Sel.Name
	}
	return ""
}
