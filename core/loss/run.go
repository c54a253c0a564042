package loss

import (
	"slices"
	"sort"

	"axtren/core/signal"
)

// run plays a script frame by frame, and goes on after its end; the link stays up.
type run struct {
	p     *signal.Program
	rows  []signal.Row
	hands signal.Hands
	st    *signal.State
}

func newRun(p *signal.Program, rows []signal.Row) *run {
	return &run{p: p, rows: rows, hands: p.Rest(), st: p.PowerOn()}
}

// step plays the next frame, and gives the state that it leaves, which the next step changes.
func (r *run) step() *signal.State {
	r.apply(r.p.Time(r.st.Frame))
	r.p.Step(r.st, r.hands)
	return r.st
}

// apply puts the rows that are due by t seconds into the hands.
func (r *run) apply(t float64) {
	link, _ := r.p.Hand("link")
	for len(r.rows) > 0 && r.rows[0].Due(t) {
		if r.rows[0].Hand != link {
			r.hands[r.rows[0].Hand] = r.rows[0].Value
		}
		r.rows = r.rows[1:]
	}
}

// lastFrame is the last frame of a run.
func lastFrame(p *signal.Program, wish *Wish) int {
	end := wish.ForS
	if end < 0 {
		end = signal.Beyond
		if n := len(wish.Rows); n > 0 {
			end += max(wish.Rows[n-1].T, 0)
		}
	}
	frame := int64(signal.FramesIn(end, p.Setup().Transmitter.FrameS()))
	for frame > 0 && !signal.Within(p.Time(frame), end) {
		frame--
	}
	for signal.Within(p.Time(frame+1), end) {
		frame++
	}
	return int(frame)
}

// power is when receivers are turned off and on: what else the hands do reaches nobody while the link is
// down.
type power []change

// change is a frame in which the power of a receiver changes, and the hands from then on.
type change struct {
	frame int
	hands signal.Hands
}

func powers(p *signal.Program, rows []signal.Row) (list power) {
	receivers := map[int]bool{}
	for i := range p.Setup().Receivers {
		hand, _ := p.Hand(string(p.Setup().Receivers[i].ID))
		receivers[hand] = true
	}
	r := newRun(p, rows)
	for i, row := range rows {
		if !receivers[row.Hand] {
			continue
		}
		frame := int64(signal.FramesIn(max(row.T, 0), p.Setup().Transmitter.FrameS()))
		for frame > 0 && row.Due(p.Time(frame-1)) {
			frame--
		}
		for !row.Due(p.Time(frame)) {
			frame++
		}
		r.apply(rows[i].T)
		list = append(list, change{int(frame), slices.Clone(r.hands)})
	}
	return list
}

// from gives the first change that is not before a frame.
func (c power) from(frame int) int {
	return sort.Search(len(c), func(i int) bool { return c[i].frame >= frame })
}

// air keeps what the transmitter of a run sends, for a while.
type air struct {
	run   *run
	first int         // the frame of sent[0]
	sent  [][]float64 // frame by frame
}

// holds sees to it that what was sent in the frames first..last can be asked for; both only grow.
func (a *air) holds(first, last int) {
	if first > a.first {
		a.sent = slices.Clone(a.sent[min(first-a.first, len(a.sent)):])
		a.first = first
	}
	for a.run.st.Frame <= int64(last) {
		st := a.run.step()
		if int(st.Frame) > a.first { // the frame that was played is one less
			a.sent = append(a.sent, a.run.p.Sent(st))
		}
	}
}

func (a *air) at(frame int) []float64 { return a.sent[frame-a.first] }
