package web

import (
	"bytes"
	"context"
	"encoding/json"
	"fmt"
	"net/url"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"axtren/app/contract"
	"axtren/core/starts"
	"axtren/core/trouble"
	"axtren/demo"
)

// fits holds a message of the bench against the contract: a list that may be empty
// is [], never null.
func fits(t *testing.T, text []byte) {
	t.Helper()
	fitsAs(t, "FromBench", text)
}

// fitsAs holds a message against a schema of the contract.
func fitsAs(t *testing.T, schema string, text []byte) {
	t.Helper()
	spec, err := theSpec()
	require.NoError(t, err)
	var message any
	require.NoError(t, json.Unmarshal(text, &message))
	require.NoError(t, spec.Components.Schemas[schema].Value.VisitJSON(message), "%.300s", text)
	require.NotContains(t, string(text), "null")
}

var theSpec = sync.OnceValues(contract.GetSpec)

// everyModel brings in every model of the demo and every fresh start, and one with
// nothing in it at all.
func everyModel(t *testing.T, s *site) []contract.Model {
	t.Helper()
	var list []contract.Model
	yard, err := demo.Yard()
	require.NoError(t, err)
	for _, m := range yard {
		list = append(list, s.bring(string(m.Doc.Tree.YAML())))
	}
	for _, k := range starts.Kinds() {
		resp, body := s.ask("POST", "/api/kinds/"+k.Kind, "")
		require.Equal(t, 201, resp.StatusCode, "%s", body)
		list = append(list, s.model(body))
	}
	return append(list, s.bring("format: axtren-setup\nversion: 1\n"))
}

// TestEmptyListsAreLists: every answer and every message of every model fits the
// contract, the empty model too.
func TestEmptyListsAreLists(t *testing.T) {
	s := newSite(t)
	for _, m := range everyModel(t, s) {
		t.Run(m.Name, func(t *testing.T) {
			p := s.open(m.Id, map[string]any{})
			kinds := map[contract.ToldT]bool{}
			var view contract.Told
			read := func(until contract.ToldT) contract.Told {
				ctx, cancel := context.WithTimeout(t.Context(), 10*time.Second)
				defer cancel()
				for {
					_, text, err := p.conn.Read(ctx)
					require.NoError(t, err)
					fits(t, text)
					var msg contract.Told
					require.NoError(t, json.Unmarshal(text, &msg))
					kinds[msg.T] = true
					if msg.T == until {
						return msg
					}
				}
			}
			view = read(contract.FromWhole)
			require.NotNil(t, view.View.Lines)
			first := ""
			p.say(contract.Asked{T: contract.ToMixing, First: &first, Second: &first})
			read(contract.FromMixing)
			for _, drill := range []string{"let_go", "all_rest", "switch_on", "cut_link"} {
				p.say(contract.Asked{T: contract.ToStage, Drill: &drill})
				read(contract.FromDrilled)
			}
			for _, line := range view.View.Lines[:min(2, len(view.View.Lines))] {
				for _, c := range trouble.Complaints() {
					p.say(contract.Asked{T: contract.ToTrouble, Complaint: &c.Key, Output: &line.ID})
					read(contract.FromTrouble)
				}
				for _, control := range line.Controls[:min(1, len(line.Controls))] {
					p.say(contract.Asked{T: contract.ToPlot, Control: &control, Output: &line.ID})
				}
				for _, what := range []string{"linkage", "learned", "feel"} {
					resp, body := s.ask("GET", "/api/models/"+m.Id.String()+"/"+what+"?output="+line.ID, "")
					require.Equal(t, 200, resp.StatusCode, "%s", body)
					require.NotContains(t, string(body), "null")
				}
				joint := "out/" + line.ID + "/pulse"
				p.say(contract.Asked{T: contract.ToWatch, Joint: &joint})
				read(contract.FromWhy)
			}
			at := "/api/models/" + m.Id.String()
			_, body := s.ask("GET", at+"/rules", "")
			var rules contract.RulesTold
			require.NoError(t, json.Unmarshal(body, &rules))
			for _, rule := range rules.Rules {
				p.say(contract.Asked{T: contract.ToStates, Rule: &rule.Key})
				read(contract.FromStates)
				frame := int64(5)
				p.say(contract.Asked{T: contract.ToBecause, Signal: &rule.Key, Frame: &frame})
				read(contract.FromBecause)
			}
			proves := true
			p.say(contract.Asked{T: contract.ToClaims, Wanted: &proves})
			read(contract.FromClaims)
			wanted, as, none, since, until := true, "vcd", []string{}, int64(0), int64(1000)
			p.say(contract.Asked{T: contract.ToRecord, Wanted: &wanted})
			read(contract.FromRecord)
			p.say(contract.Asked{T: contract.ToExport, As: &as, Signals: &none, From: &since, To: &until})
			read(contract.FromExport)
			for _, path := range []string{"", "/revisions", "/recordings", "/sheet", "/sheet?since=1",
				"/ticks", "/fit", "/differences?from=1&to=1", "/same", "/entries", "/cures?claim=x",
				"/goals", "/loss", "/start", "/walks", "/trying", "/log", "/again", "/exchange?part=transmitter",
				"/plan", "/plan/other", "/leads",
				"/codes", "/stand",
				"/schemes", "/rules"} {
				resp, body := s.ask("GET", at+path, "")
				require.Equal(t, 200, resp.StatusCode, "%s: %s", path, body)
				require.NotContains(t, string(body), "null", path)
			}
			for path, sent := range map[string]string{"/diagnosis": `{"looks": []}`,
				"/diagnosis/film": `{"faults": [], "hands": {}}`} {
				resp, body := s.ask("POST", at+path, sent)
				require.Equal(t, 200, resp.StatusCode, "%s: %s", path, body)
				require.NotContains(t, string(body), "null", path)
			}
			for _, b := range view.View.Behind {
				resp, body := s.ask("GET", at+"/form?part="+url.QueryEscape(b.Part), "")
				require.Equal(t, 200, resp.StatusCode, "%s: %s", b.Part, body)
				require.False(t, bytes.Contains(body, []byte(`null`)), "%s: %s", b.Part, body)
			}
		})
	}
	for _, path := range []string{"/api/models", "/api/kinds", "/api/complaints", "/api/phones"} {
		resp, body := s.ask("GET", path, "")
		require.Equal(t, 200, resp.StatusCode, fmt.Sprintf("%s: %s", path, body))
		require.NotContains(t, string(body), "null", path)
	}
}
