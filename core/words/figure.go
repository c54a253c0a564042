package words

import (
	"strconv"
	"strings"
)

// Figure writes a value as people do: one decimal, two where they are needed, with a real
// minus sign.
func Figure(v float64) string {
	s := strconv.FormatFloat(v, 'f', 2, 64)
	s = strings.TrimSuffix(s, "0")
	if strings.Trim(s, "-0.") == "" {
		s = strings.TrimPrefix(s, "-")
	}
	return strings.Replace(s, "-", "−", 1)
}

// Signed is Figure with a plus sign before what is above 0.
func Signed(v float64) string {
	s := Figure(v)
	if v > 0 && s != "0.0" {
		return "+" + s
	}
	return s
}

// Short is Figure without a needless .0, for what a person sets.
func Short(v float64) string { return strings.TrimSuffix(Figure(v), ".0") }

// SignedShort is Signed without a needless .0.
func SignedShort(v float64) string { return strings.TrimSuffix(Signed(v), ".0") }

// Expo says an expo in words: expo 30, sharpened 20.
func Expo(expo float64) string {
	if expo < 0 {
		return "sharpened " + Short(-expo)
	}
	return "expo " + Short(expo)
}
