package record

import (
	"bufio"
	"encoding/csv"
	"fmt"
	"io"
	"math"
	"slices"
	"strconv"
	"strings"

	"axtren/core/signal"
)

// frames gives the frames of a span in which any of some signals changed, its first and its last among them.
func (l *Log) frames(of []int, from, to int64) []int64 {
	list := []int64{from}
	for c := range l.changes.All() {
		if c.Frame > from && c.Frame < to && list[len(list)-1] != c.Frame && slices.Contains(of, c.Of) {
			list = append(list, c.Frame)
		}
	}
	if to > from {
		list = append(list, to)
	}
	return list
}

// chosen finds signals by their keys, in the order of the record; none are all.
func (l *Log) chosen(keys []string) []int {
	var list []int
	for i, s := range l.Signals {
		if len(keys) == 0 || slices.Contains(keys, s.Key) {
			list = append(list, i)
		}
	}
	return list
}

// name writes a signal's key as a name of a table or a dump: spray_on. A control and a rule never have
// one id.
func (s *Signal) name() string {
	_, id, _ := strings.Cut(s.Key, "/")
	return id
}

// seconds gives the time of a frame since power-on, whose own is the first.
func (l *Log) seconds(frame int64) float64 {
	return float64((frame-1)*int64(l.p.Setup().Transmitter.FrameMS)) / 1000
}

// WriteCSV writes a span of the record as a table: t_s, the time since power-on, s, and a column for each
// signal, a
// row for each frame in which one of them changed. A truth is 0 or 1, a position or a step its name, a
// value percent.
// The error is that of out.
func (l *Log) WriteCSV(out io.Writer, keys []string, from, to int64) error {
	w := csv.NewWriter(out)
	of, all := l.chosen(keys), l.histories()
	row := []string{"t_s"}
	for _, i := range of {
		row = append(row, l.Signals[i].name())
	}
	if err := w.Write(row); err != nil {
		return err
	}
	for _, frame := range l.frames(of, from, to) {
		row = append(row[:0], strconv.FormatFloat(l.seconds(frame), 'f', 3, 64))
		for _, i := range of {
			row = append(row, l.Signals[i].text(all[i].at(frame)))
		}
		if err := w.Write(row); err != nil {
			return err
		}
	}
	w.Flush()
	return w.Error()
}

// text writes a value for a table.
func (s *Signal) text(v float64) string {
	switch {
	case s.Kind == Truth:
		return strconv.Itoa(int(v))
	case s.Kind == Named && int(v) < len(s.Names):
		return s.Names[int(v)]
	}
	return strconv.FormatFloat(v+0, 'f', 1, 64)
}

// WriteVCD writes a span of the record as a value change dump (IEEE 1364-2001, clause 18) at a timescale
// of 1 us: truths
// are wires, values are real, positions and steps are integers from 1. The error is that of out.
func (l *Log) WriteVCD(out io.Writer, keys []string, from, to int64) error {
	w := bufio.NewWriter(out)
	of, all := l.chosen(keys), l.histories()
	fmt.Fprintf(w, "$version axtren $end\n$timescale 1us $end\n$scope module record $end\n")
	for k, i := range of {
		kind, size := "real", 64
		switch l.Signals[i].Kind {
		case Truth:
			kind, size = "wire", 1
		case Named:
			kind, size = "integer", 32
		}
		fmt.Fprintf(w, "$var %s %d %s %s $end\n", kind, size, signal.DumpID(k), l.Signals[i].name())
	}
	fmt.Fprintf(w, "$upscope $end\n$enddefinitions $end\n")
	last := make([]string, len(of))
	for _, frame := range l.frames(of, from, to) {
		fmt.Fprintf(w, "#%d\n", int64(math.Round(l.seconds(frame)*1e6)))
		for k, i := range of {
			v := all[i].at(frame)
			var text string
			switch l.Signals[i].Kind {
			case Truth:
				text = strconv.Itoa(int(v)) + signal.DumpID(k)
			case Named:
				text = "b" + strconv.FormatInt(int64(v)+1, 2) + " " + signal.DumpID(k)
			default:
				text = "r" + strconv.FormatFloat(v+0, 'g', -1, 64) + " " + signal.DumpID(k)
			}
			if text != last[k] {
				last[k] = text
				fmt.Fprintln(w, text)
			}
		}
	}
	return w.Flush()
}
