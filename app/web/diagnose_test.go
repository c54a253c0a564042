package web

import (
	"encoding/json"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"axtren/app/contract"
)

// TestADiagnosisIsTold: from the first try that is asked for to the causes, the likeliest first, each with
// where and how it is mended, and what the next try would show; what nothing explains, and what would have
// to be seen otherwise.
func TestADiagnosisIsTold(t *testing.T) {
	before := longestDiagnosis
	longestDiagnosis = time.Minute // all of it, however busy the machine is
	t.Cleanup(func() { longestDiagnosis = before })
	s := newSite(t)
	m := s.bring(stoat(t))
	tell := func(looks string) contract.Diagnosis {
		resp, body := s.ask("POST", "/api/models/"+m.Id.String()+"/diagnosis", `{"looks":`+looks+`}`, "Content-Type",
			"application/json")
		require.Equal(t, 200, resp.StatusCode, "%s", body)
		var told contract.Diagnosis
		require.NoError(t, json.Unmarshal(body, &told))
		return told
	}
	first := tell("[]")
	require.True(t, first.Right)
	require.Empty(t, first.Causes)
	require.NotEmpty(t, first.Next.Does)
	require.NotEmpty(t, first.Next.About)
	for _, one := range first.Sights.Devices {
		require.NotEqual(t, one.ID, one.Label)
	}

	told := tell(`[{"hands":{"drive":100},"display":{},"seen":{"port_controller":"minus","starboard_controller":"minus"}}]`)
	require.False(t, told.Right)
	require.Equal(t, []string{"Right stick held all the way towards forward"}, told.Looks)
	require.Greater(t, len(told.Causes), 1)
	require.Equal(t, "reversed", told.Causes[0].Faults[0].Named.Kind, "the likeliest")
	require.Equal(t, "At the transmitter: reverse Left track there.", told.Causes[0].Faults[0].Mend)
	require.Equal(t, "port_track", told.Causes[0].Faults[0].Line)
	require.Equal(t, "functions", told.Causes[0].Faults[0].Place)
	for _, set := range told.Causes {
		require.NotEmpty(t, set.Shows)
		require.Len(t, set.Faults, 1)
		require.NotEqual(t, "unplugged", set.Faults[0].Named.Kind, "it does turn")
	}
	require.Less(t, told.Next.Leaves, len(told.Causes))

	odd := tell(`[{"hands":{"drive":100},"display":{"1":1237},"seen":{"port_controller":"plus","starboard_controller":"minus"}}]`)
	require.False(t, odd.Right)
	require.Empty(t, odd.Causes)
	require.Len(t, odd.Doubts, 1)
	require.Equal(t, "channel 1, Left track", odd.Doubts[0].Label)
	require.Equal(t, "1237", odd.Doubts[0].Saw)
	require.NotContains(t, odd.Doubts[0].Would, "1237")
}
