package web

import (
	"context"
	"strings"
	"time"

	"axtren/app/contract"
	"axtren/core/diagnose"
	"axtren/core/setup"
	"axtren/core/signal"
	"axtren/core/words"
)

// longestDiagnosis is how long one is worked on; then it is told as far as it is.
var longestDiagnosis = 4 * time.Second

// Diagnose names every smallest set of faults that explains what was seen of a model.
func (m *models) Diagnose(ctx context.Context,
	r contract.DiagnoseRequestObject) (contract.DiagnoseResponseObject, error) {
	told := contract.Diagnosis{}
	err := m.planning(ctx, r.Id, func(s *setup.Setup, revision int) error {
		p, err := signal.Compile(s)
		if err != nil {
			return err
		}
		until := time.Now().Add(longestDiagnosis)
		a, err := diagnose.Diagnose(p, r.Body.Looks, diagnose.Wish{Most: diagnose.Most, Wide: true, Own: true,
			Ask: true, GoOn: func() bool { return ctx.Err() == nil && time.Now().Before(until) }})
		if err == nil {
			told = tellDiagnosis(p, r.Body.Looks, a)
			told.Revision = revision
		}
		return err
	})
	return contract.Diagnose200JSONResponse(told), err
}

// tellDiagnosis puts an answer into words.
func tellDiagnosis(p *signal.Program, looks []diagnose.Look, a *diagnose.Answer) contract.Diagnosis {
	s, sights := p.Setup(), diagnose.SightsOf(p)
	told := contract.Diagnosis{Sights: sights, Tries: diagnose.Tries(p), Looks: []string{}, Most: a.Most,
		Complete: a.Complete,
		Right:    len(a.Causes) == 1 && len(a.Causes[0]) == 0, Causes: []contract.FaultSet{},
		Doubts: []contract.Doubt{}}
	for i := range looks {
		_, at := diagnose.HandsSay(p, looks[i].Hands)
		if at == nil {
			at = []string{"all at rest"}
		}
		told.Looks = append(told.Looks, words.Capital(words.And(at)))
	}
	causes := diagnose.Likeliest(a.Causes)
	shows := a.Shows(causes)
	for i, set := range causes {
		one := contract.FaultSet{Faults: []contract.SaidFault{}, Shows: []contract.WouldShow{}}
		for k := range set {
			one.Faults = append(one.Faults, tellFault(s, &set[k]))
		}
		if shows != nil {
			for k := range shows[i] {
				label, says := sights.Named(s, &shows[i][k])
				one.Shows = append(one.Shows, contract.WouldShow{Label: label, Says: says})
			}
		}
		if !told.Right {
			told.Causes = append(told.Causes, one)
		}
	}
	if a.Next != nil {
		told.Next = tellNext(p, a, shows)
	}
	for i := range a.Doubts {
		of := &a.Doubts[i]
		label, saw, would := sights.Doubt(s, of)
		told.Doubts = append(told.Doubts, contract.Doubt{Look: of.Look, Label: label, Saw: saw, Would: would})
	}
	return told
}

func tellFault(s *setup.Setup, f *diagnose.Fault) contract.SaidFault {
	wrong, mend := f.Says(s)
	at := map[string]string{diagnose.AtTransmitter: "At the transmitter: ", diagnose.AtPlug: "At the plugs: ",
		diagnose.AtModel: "On the model: "}[f.At()]
	one := contract.SaidFault{Named: *f, Says: words.Capital(wrong) + ".", Mend: at + mend + ".",
		Part: s.PartName(f.Part())}
	list, _, _ := strings.Cut(one.Part, "/")
	one.Place = words.Home(list)
	if o := f.Output(s); o >= 0 {
		one.Line = string(s.Outputs[o].ID)
	}
	if one.Place == "" || one.Part == "" {
		one.Place = words.Home("outputs")
	}
	return one
}

// tellNext says what to do and what to look at first.
func tellNext(p *signal.Program, a *diagnose.Answer, shows [][]diagnose.Shown) *contract.NextLook {
	does, _ := diagnose.HandsSay(p, a.Next.Hands)
	next := &contract.NextLook{Hands: a.Next.Hands, Does: append([]string{}, does...),
		Leaves: a.Next.LeavesAtMost,
		About:  []string{}, Channels: []int{}}
	for _, of := range shows[0] {
		if of.Device >= 0 {
			next.About = append(next.About, string(p.Setup().Devices[of.Device].ID))
		} else {
			next.Channels = append(next.Channels, of.Channel)
		}
	}
	return next
}

// Film plays what the picture shows with faults, or without.
func (m *models) Film(ctx context.Context, r contract.FilmRequestObject) (contract.FilmResponseObject,
	error) {
	var film *diagnose.Film
	err := m.planning(ctx, r.Id, func(s *setup.Setup, _ int) error {
		p, err := signal.Compile(s)
		if err != nil {
			return err
		}
		faults, err := diagnose.FaultsAt(s, r.Body.Faults)
		if err == nil {
			film, err = diagnose.Play(p, faults, r.Body.Hands)
		}
		return err
	})
	if err != nil {
		return nil, err
	}
	return contract.Film200JSONResponse(*film), nil
}
