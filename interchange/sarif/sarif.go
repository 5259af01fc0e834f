// Package sarif writes findings as SARIF 2.1.0 (OASIS Static Analysis Results
// Interchange Format), so that continuous integration can show them at the line of
// the quiz's file that they are about.
package sarif

import (
	"bytes"
	"encoding/json"
	"fmt"
	"io"
	"maps"
	"slices"
	"strconv"

	"github.com/owenrumney/go-sarif/v3/pkg/report/v210/sarif"

	"omphalos/core/finding"
	"omphalos/core/quiz"
)

var levels = map[finding.Level]string{finding.Error: "error", finding.Warning: "warning", finding.Hint: "note"}

// Write writes the findings of a document, which is named by its address relative to
// the place that they are read at.
func Write(w io.Writer, address string, document []byte, list []finding.Finding) error {
	run := sarif.NewRun()
	driver := sarif.NewToolComponent().WithName("omphalos")
	run.WithTool(sarif.NewTool().WithDriver(driver))
	for _, code := range codes(list) {
		rule := run.AddRule(code)
		if known, ours := finding.Codes[code]; ours {
			rule.WithShortDescription(sarif.NewMultiformatMessageString().WithText(known.About))
		}
	}
	lines := lines(document)
	for _, f := range list {
		place := sarif.NewPhysicalLocation().WithArtifactLocation(sarif.NewArtifactLocation().WithURI(address)).
			WithRegion(sarif.NewRegion().WithStartLine(lineOf(lines, f.Pointer)))
		thing := sarif.NewLogicalLocation().WithFullyQualifiedName(string(f.Pointer))
		if f.Key != "" {
			thing.WithName(f.Key)
		}
		run.AddResult(sarif.NewRuleResult(f.Code).WithLevel(levels[f.Level]).WithRuleIndex(run.GetRuleIndex(f.Code)).
			WithMessage(sarif.NewTextMessage(f.Sentence)).
			AddLocation(sarif.NewLocation().WithPhysicalLocation(place).WithLogicalLocations([]*sarif.LogicalLocation{thing})),
		)
	}
	if err := sarif.NewReport().AddRun(run).PrettyWrite(w); err != nil {
		return fmt.Errorf("writing the findings as SARIF: %w", err)
	}
	return nil
}

func codes(list []finding.Finding) []string {
	set := map[string]bool{}
	for _, f := range list {
		set[f.Code] = true
	}
	return slices.Sorted(maps.Keys(set))
}

// lineOf returns the line of a pointer, or of the nearest thing around it.
func lineOf(lines map[quiz.Pointer]int, pointer quiz.Pointer) int {
	for {
		if line, known := lines[pointer]; known {
			return line
		}
		if pointer == "" {
			return 1
		}
		pointer = pointer.Parent()
	}
}

// lines finds the line, from 1, on which each value of a JSON document begins.
func lines(document []byte) map[quiz.Pointer]int {
	found := map[quiz.Pointer]int{}
	d := json.NewDecoder(bytes.NewReader(document))
	line, counted := 1, int64(0)
	here := func() int {
		at := d.InputOffset()
		line += bytes.Count(document[counted:at], []byte("\n"))
		counted = at
		return line
	}
	var value func(pointer quiz.Pointer) bool
	value = func(pointer quiz.Pointer) bool {
		token, err := d.Token()
		if err != nil {
			return false
		}
		if _, known := found[pointer]; !known {
			found[pointer] = here()
		}
		switch token {
		case json.Delim('{'):
			for d.More() {
				key, err := d.Token()
				if err != nil {
					return false
				}
				inner := pointer.Join(fmt.Sprint(key))
				found[inner] = here()
				if !value(inner) {
					return false
				}
			}
		case json.Delim('['):
			for i := 0; d.More(); i++ {
				if !value(pointer.Join(strconv.Itoa(i))) {
					return false
				}
			}
		default:
			return true
		}
		_, err = d.Token()
		return err == nil
	}
	value("")
	return found
}
