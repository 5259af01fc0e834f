// Package saying keeps words apart from the rules that choose them: a rule says something
// under a key, with its parts, and a table of one language has the words.
package saying

import "fmt"

// A Table has the words of one language by key, with verbs of package fmt where parts
// stand; where a language wants them in another order, as %[2]s.
type Table map[string]string

// Say writes what is said under a key. A key without words is a mistake of the program.
func (t Table) Say(key string, parts ...any) string {
	words, known := t[key]
	if !known {
		panic("saying: there are no words for " + key)
	}
	return fmt.Sprintf(words, parts...)
}
