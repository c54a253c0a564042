package words

import (
	"regexp"
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

// Number reads what a person typed as a number: a comma, a plus sign, a real minus sign or a
// dash for one, and spaces between thousands will do. ok is false for anything else.
func Number(text string) (v float64, ok bool) {
	plain := strings.NewReplacer("−", "-", "–", "-", ",", ".").Replace(strings.TrimSpace(text))
	if typedThousands.MatchString(plain) {
		plain = spaces.Replace(plain)
	}
	if !typedNumber.MatchString(plain) {
		return 0, false
	}
	v, err := strconv.ParseFloat(plain, 64)
	return v, err == nil
}

var (
	typedThousands = regexp.MustCompile(`^[+-]?[0-9]{1,3}([ \x{a0}\x{2009}\x{202f}][0-9]{3})+(\.[0-9]*)?$`)
	spaces         = strings.NewReplacer(" ", "", "\u00a0", "", "\u2009", "", "\u202f", "")
)

var typedNumber = regexp.MustCompile(`^[+-]?([0-9]+\.?[0-9]*|\.[0-9]+)$`)
