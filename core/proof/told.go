package proof

import (
	"context"
	"crypto/sha256"
	"encoding/json"
	"slices"

	"axtren/core/setup"
	"axtren/core/words"
)

// Looking is what is said of a claim while it is searched, or waits for it.
const Looking = "looking"

// Told is a claim as a page has it.
type Told struct {
	Claim   string   `json:"claim"` // claims/pump
	Verdict string   `json:"verdict"`
	Lines   []string `json:"lines"` // what was proved; what to do to see that it is broken; how far it got
	Plays   string   `json:"plays"` // what plays it: claim/pump; empty: nothing
}

// Tell says a verdict for a page.
func (v *Verdict) Tell(s *setup.Setup) Told {
	claim := &s.Claims[s.Item(v.Claim).Index]
	t := Told{Claim: "claims/" + string(v.Claim), Verdict: v.Verdict, Lines: Says(s, claim, v)}
	if v.shows(claim) {
		t.Plays = "claim/" + string(v.Claim)
	}
	return t
}

// shows tells whether there is a run to be seen.
func (v *Verdict) shows(claim *setup.Claim) bool {
	return v.Verdict == Fails && claim.Reachable == nil || v.Verdict == Holds && claim.Reachable != nil
}

// Look is what is said of a claim that is searched: how many moments were looked at.
func Look(id setup.ID, moments int) Told {
	t := Told{Claim: "claims/" + string(id), Verdict: Looking, Lines: []string{"Not looked at yet."}}
	if moments > 0 {
		t.Lines[0] = "Being searched: " + words.Count(moments, "moment was", "moments were") + " looked at so far."
	}
	return t
}

// What a glance at all claims of a model takes.
const (
	glanceSteps  = 20000 // of each search
	glanceBytes  = 8 << 20
	glanceClaims = 24
)

// Glance decides what can be decided quickly: the others are undecided.
func Glance(s *setup.Setup) []Verdict {
	list := []Verdict{}
	for i := range s.Claims {
		if i >= glanceClaims {
			list = append(list, Verdict{Claim: s.Claims[i].ID, Verdict: Undecided, Rows: []Row{}})
			continue
		}
		list = append(list, Decide(context.Background(), s, i, Budget{Bytes: glanceBytes, Steps: glanceSteps}))
	}
	return list
}

// PlayedS is how long a verdict is played, after the frame in which it shows, seconds.
const PlayedS = 1.5

// Film is the script that shows a verdict, going on for a while after it: its last row, once more, ends it.
func (v *Verdict) Film(s *setup.Setup) string {
	last := Row{Control: "link", Value: "up"} // as it is before the first row
	if n := len(v.Rows); n > 0 {
		last = v.Rows[n-1]
	}
	last.T = Seconds(v.Frame, s) + PlayedS
	return Script(append(slices.Clone(v.Rows), last))
}

// Fingerprint is the same for two claims where all that decides them is.
func Fingerprint(s *setup.Setup, i int) ([32]byte, error) {
	y := &system{}
	power := y.claim(s, &s.Claims[i])
	watch, err := y.parts()
	if err != nil {
		return [32]byte{}, err
	}
	text, err := json.Marshal([]any{y.all.Cone(watch...), s.Claims[i], power})
	return sha256.Sum256(text), err
}
