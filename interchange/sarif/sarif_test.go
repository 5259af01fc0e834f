package sarif_test

import (
	"bytes"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	oasis "github.com/owenrumney/go-sarif/v3/pkg/report/v210/sarif"

	"omphalos/core/finding"
	"omphalos/interchange/sarif"
)

// What is written is valid under the schema of SARIF 2.1.0 (OASIS), and each finding
// is on the line of its place, or of what is around it.
func TestWrite(t *testing.T) {
	document := []byte("{\n \"questions\": {\n  \"crop\": {\n   \"label\": \"a/b\"\n  }\n },\n \"list\": [1,\n  2]\n}")
	list := []finding.Finding{
		{Code: "unweighted", Level: finding.Warning, Pointer: "/questions/crop/label", Key: "crop", Sentence: "One."},
		{
			Code:     "unweighted",
			Level:    finding.Warning,
			Pointer:  "/questions/crop/adds/need",
			Key:      "crop",
			Sentence: "Two.",
		},
		{Code: "empty", Level: finding.Error, Pointer: "/list/1", Sentence: "Three."},
		{Code: "long-list", Level: finding.Hint, Pointer: "/nowhere", Sentence: "Four."},
	}
	var b bytes.Buffer
	require.NoError(t, sarif.Write(&b, "quizzes/orchard.json", document, list))
	report, err := oasis.FromBytes(b.Bytes())
	require.NoError(t, err)
	require.NoError(t, report.Validate())
	results := report.Runs[0].Results
	require.Len(t, results, 4)
	for i, want := range []struct {
		line  int
		level string
	}{{4, "warning"}, {3, "warning"}, {8, "error"}, {1, "note"}} {
		place := results[i].Locations[0].PhysicalLocation
		assert.Equal(t, want.line, *place.Region.StartLine, list[i].Sentence)
		assert.Equal(t, want.level, results[i].Level)
		assert.Equal(t, list[i].Code, *results[i].RuleID)
		assert.Equal(t, "quizzes/orchard.json", *place.ArtifactLocation.URI)
	}
	assert.Len(t, report.Runs[0].Tool.Driver.Rules, 3)
	var again bytes.Buffer
	require.NoError(t, sarif.Write(&again, "quizzes/orchard.json", document, list))
	assert.Equal(t, b.String(), again.String(), "the same findings are written the same")
	assert.False(t, strings.Contains(b.String(), "guid"))
}
