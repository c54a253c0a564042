package live

import (
	"bytes"

	"axtren/app/contract"
	"axtren/core/record"
)

// recordEvery is how many frames lie between two messages of what happened.
const recordEvery = 5

// recordFeature tells a page what happened, and goes on telling.
type recordFeature struct {
	wanted bool
	log    *record.Log // that was told; another one after an edit is told whole
	told   int64       // the last frame that was told
	every
}

func (f *recordFeature) take(_ *bench, msg *contract.Asked) {
	*f = recordFeature{wanted: msg.Wanted != nil && *msg.Wanted}
}

func (f *recordFeature) next(b *bench) (*contract.Told, func()) {
	if !f.wanted || !f.due(recordEvery) {
		return nil, nil
	}
	log := b.session.Log()
	_, to := log.Span()
	whole := log != f.log
	if !whole && to == f.told {
		return nil, nil
	}
	var strips record.Strips
	if whole {
		strips = log.Strips()
	} else {
		strips = log.Since(f.told)
	}
	return &contract.Told{T: contract.FromRecord, Whole: &whole, Strips: &strips},
		func() { f.log, f.told = log, to }
}

// becauseFeature tells why something changed, or did not.
type becauseFeature struct{ asked *contract.Asked }

func (f *becauseFeature) take(_ *bench, msg *contract.Asked) {
	f.asked = nil
	if msg.Signal != nil && msg.Frame != nil {
		f.asked = msg
	}
}

func (f *becauseFeature) next(b *bench) (*contract.Told, func()) {
	if f.asked == nil {
		return nil, nil
	}
	signal, frame := *f.asked.Signal, *f.asked.Frame
	steps, _ := b.session.Log().Why(signal, frame)
	missing, _ := b.session.Log().WhyNot(signal, frame)
	steps, missing = append([]record.Step{}, steps...), append([]string{}, missing...)
	return &contract.Told{T: contract.FromBecause, Signal: &signal, Frame: &frame, Steps: &steps,
			Missing: &missing},
		func() { f.asked = nil }
}

// exportFeature writes a span of the record.
type exportFeature struct{ asked *contract.Asked }

func (f *exportFeature) take(_ *bench, msg *contract.Asked) {
	f.asked = nil
	if msg.As != nil && msg.Signals != nil && msg.From != nil && msg.To != nil {
		f.asked = msg
	}
}

func (f *exportFeature) next(b *bench) (*contract.Told, func()) {
	if f.asked == nil {
		return nil, nil
	}
	log := b.session.Log()
	from, to := log.Span()
	from, to = max(from, *f.asked.From), min(to, *f.asked.To)
	var out bytes.Buffer
	write := log.WriteCSV
	if *f.asked.As == "vcd" {
		write = log.WriteVCD
	}
	_ = write(&out, *f.asked.Signals, from, max(from, to)) // into memory
	as, text := *f.asked.As, out.String()
	return &contract.Told{T: contract.FromExport, As: &as, Text: &text}, func() { f.asked = nil }
}
