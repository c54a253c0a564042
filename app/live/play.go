package live

import (
	"bytes"
	"context"
	"strconv"
	"strings"

	"github.com/google/uuid"

	"axtren/app/contract"
	trying "axtren/core/bench"
	"axtren/core/session"
)

// wish fetches what a play message asks for; it runs beside the bench.
func (b *bench) wish(ctx context.Context, msg *contract.Asked) {
	w := &session.Wish{Run: msg.Run, Seek: msg.Seek}
	if msg.Recording != nil {
		w.ID = *msg.Recording
	}
	if id, err := uuid.Parse(w.ID); err == nil {
		r, err := b.from.Recording(ctx, b.model, id)
		if err != nil {
			w.Why = err.Error()
		} else {
			w.Script = []byte(r.Script)
		}
	}
	if walk, at, ok := walked(w.ID); ok {
		kept, err := b.from.Walk(ctx, b.model, walk)
		if err != nil {
			w.Why = err.Error()
		} else {
			w.Script = []byte(trying.Upto(kept.Script, at))
		}
	}
	b.box.put(func(m *mail) {
		if before := m.play; before != nil && before.ID == w.ID {
			if w.Run == nil {
				w.Run = before.Run
			}
			if w.Seek == nil {
				w.Seek = before.Seek
			}
		}
		m.play = w
	})
}

// walked reads the name of a step of a walk as it is played: walk/, its id, and when a person looks, seconds.
func walked(id string) (walk uuid.UUID, at float64, ok bool) {
	steps := strings.Split(id, "/")
	if len(steps) != 3 || steps[0] != "walk" {
		return walk, 0, false
	}
	walk, err := uuid.Parse(steps[1])
	if err != nil {
		return walk, 0, false
	}
	at, err = strconv.ParseFloat(steps[2], 64)
	return walk, at, err == nil
}

// play starts, steers and ends a play.
func (b *bench) play(w *session.Wish) {
	if w.ID == "" {
		b.session.EndPlay()
		return
	}
	if w.Script == nil && w.Why == "" {
		for _, f := range b.features {
			if s, ok := f.feature.(scripter); ok && len(w.Script) == 0 {
				s.script(b, w)
			}
		}
		if pl := b.session.Player(); len(w.Script) == 0 && (pl == nil || pl.ID() != w.ID) {
			return
		}
	}
	b.session.Play(w)
	b.steered = true
}

// playing says where the play is; whole with what does not change.
func (b *bench) playing(whole bool) *contract.Told {
	play := contract.Playing{}
	if pl := b.session.Player(); pl != nil {
		play = contract.Playing{Recording: pl.ID(), At: pl.At(), Of: pl.Of(), Run: pl.Run()}
		if whole {
			marks := pl.Marks()
			play.Marks = &marks
			if why := pl.Why(); why != "" {
				play.Why = &why
			}
		}
	}
	return &contract.Told{T: contract.FromPlayed, Play: &play}
}

// save answers the page's wish for the recording: as a script, or played again as a trace
// or a value change dump, up to the frame that was stepped last.
func (b *bench) save(format contract.SaveFormat) (*contract.Told, error) {
	rec := b.session.Recording()
	var out bytes.Buffer
	switch format {
	case contract.SaveCSV, contract.SaveVCD:
		if err := rec.WriteTrace(&out, b.session.Live().Frame-1, format == contract.SaveVCD); err != nil {
			return nil, err
		}
	default:
		out.Write(rec.Script())
	}
	text, exact := out.String(), rec.Exact()
	return &contract.Told{T: contract.FromSaved, Text: &text, Exact: &exact}, nil
}

// handText is a hand's value as a script writes it.
func handText(value any) (text string, ok bool) {
	switch v := value.(type) {
	case float64:
		return strconv.FormatFloat(v, 'g', -1, 64), true
	case string:
		return v, true
	}
	return "", false
}
