package live

import (
	"slices"
	"sync/atomic"

	"axtren/app/web/contract"
	"axtren/core/mixing"
	"axtren/core/signal"
)

// mixingEvery is how many frames lie between two looks at whether a field is still
// true: another control may have changed it.
const mixingEvery = 10

// mixed is the pair whose fields a page wants, and what it was told of.
type mixed struct {
	wish    *contract.ToBench
	program *signal.Program // that the fields are of
	hands   signal.Hands    // besides those of the square
	pair    mixing.Pair
	sends   bool
	wait    int
	busy    atomic.Bool
	done    *contract.FromBench // not sent yet
}

// mixes makes the fields of the pair that the page looks at, beside the bench,
// where what they depend on has changed.
func (b *bench) mixes() (msg *contract.FromBench, sent func()) {
	m := &b.mixed
	if m.done != nil {
		return m.done, func() { m.done = nil }
	}
	if m.wish == nil {
		return nil, nil
	}
	if m.wait--; m.wait > 0 || m.busy.Load() {
		return nil, nil
	}
	m.wait = mixingEvery
	still := besides(b.program, b.state, &m.pair)
	sends := b.program.Sending(b.state)
	if m.program == b.program && m.sends == sends && slices.Equal(still, m.hands) {
		return nil, nil
	}
	m.program, m.sends, m.hands = b.program, sends, still
	p, st, wish := b.program, b.program.PowerOn(), m.wish
	st.CopyFrom(b.state)
	m.busy.Store(true)
	go func() {
		defer m.busy.Store(false)
		told, pair := tellMixing(p, st, wish)
		b.box.put(func(in *mail) { in.mixed = &mixedMail{told, pair, besides(p, st, &pair)} })
	}()
	return nil, nil
}

// mixedMail is what was made beside the bench.
type mixedMail struct {
	told  *contract.FromBench
	pair  mixing.Pair
	hands signal.Hands
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
func tellMixing(p *signal.Program, st *signal.State, wish *contract.ToBench) (*contract.FromBench, mixing.Pair) {
	told := contract.Mixing{Pairs: mixing.Find(p.Setup()), Sources: mixing.Sources(p.Setup()), Fields: []contract.MixingField{}, Paths: [][]contract.Path{}, At: -1}
	var pair mixing.Pair
	for i, one := range told.Pairs {
		if i == 0 || wish.First != nil && wish.Second != nil && one.First == *wish.First && one.Second == *wish.Second {
			told.At, pair = i, one
		}
	}
	if told.At >= 0 {
		if fields := mixing.Fields(p, st, &pair); fields != nil {
			told.Fields = fields
		}
		for i := range told.Fields {
			told.Paths = append(told.Paths, mixing.Paths(&told.Fields[i], pair.Kind))
		}
	}
	return &contract.FromBench{T: contract.FromBenchTMixing, Mixing: &told}, pair
}
