package live

import (
	"slices"
	"sync/atomic"

	"axtren/app/contract"
	"axtren/core/mixing"
	"axtren/core/signal"
)

// mixingEvery is how many frames lie between two looks at whether a field is still
// true: another control may have changed it.
const mixingEvery = 10

// mixingFeature makes the fields of the pair that a page looks at.
type mixingFeature struct {
	wish    *contract.Asked // nil: nobody looks
	program *signal.Program // that the fields are of
	hands   signal.Hands    // besides those of the square
	pair    mixing.Pair
	sends   bool
	done    *contract.Told // not sent yet
	busy    atomic.Bool
	every
}

func (f *mixingFeature) take(_ *bench, msg *contract.Asked) {
	f.wish, f.program, f.every = msg, nil, every{}
	if msg.First == nil {
		f.wish = nil
	}
}

// next makes the fields beside the bench, where what they depend on has changed.
func (f *mixingFeature) next(b *bench) (*contract.Told, func()) {
	if f.done != nil {
		return f.done, func() { f.done = nil }
	}
	if f.wish == nil || f.busy.Load() || !f.due(mixingEvery) {
		return nil, nil
	}
	p, now := b.session.Runs().Program, b.session.State()
	still, sends := besides(p, now, &f.pair), p.Sending(now)
	if f.program == p && f.sends == sends && slices.Equal(still, f.hands) {
		return nil, nil
	}
	f.program, f.sends, f.hands = p, sends, still
	st, wish := p.PowerOn(), f.wish
	st.CopyFrom(now)
	b.beside(&f.busy, func() func() {
		told, pair := tellMixing(p, st, wish)
		hands := besides(p, st, &pair)
		return func() { f.done, f.pair, f.hands = told, pair, hands }
	})
	return nil, nil
}

// besides gives the hands without the two controls of a pair's square.
func besides(p *signal.Program, st *signal.State, pair *mixing.Pair) signal.Hands {
	hands := p.HandsOf(st)
	for _, id := range []string{pair.Across, pair.Along} {
		if at, ok := p.Hand(id); ok {
			hands[at] = 0
		}
	}
	return hands
}

// tellMixing makes the message of a pair: the one that is wished for, else the first.
func tellMixing(p *signal.Program, st *signal.State, wish *contract.Asked) (*contract.Told, mixing.Pair) {
	told := contract.Mixing{Pairs: mixing.Find(p.Setup()), Sources: mixing.Sources(p.Setup()),
		Rules: mixing.Rules(), Fields: []contract.MixingField{}, Paths: [][]contract.Path{}, At: -1}
	var pair mixing.Pair
	for i, one := range told.Pairs {
		if i == 0 || wish.First != nil && wish.Second != nil && one.First == *wish.First &&
			one.Second == *wish.Second {
			told.At, pair = i, one
		}
	}
	told.None = mixing.WhyNone(nil, nil, false)
	if told.At >= 0 {
		fields := mixing.Fields(p, st, &pair)
		if fields != nil {
			told.Fields = fields
		}
		told.None = mixing.WhyNone(&pair, fields, p.Sending(st))
		for i := range told.Fields {
			told.Paths = append(told.Paths, mixing.Paths(&told.Fields[i], pair.Kind))
		}
	}
	return &contract.Told{T: contract.FromMixing, Mixing: &told}, pair
}
