package setup

import "fmt"

// Chart says how the pins of a receiver are set by counted flashes, level by level: what a person
// does, in words, and what each value means. It changes nothing of what is computed.
type Chart struct {
	Label  string `json:"label"`
	Enters string `json:"enters"` // how the first level is reached
	Up     string `json:"up"`     // what makes the value one more; empty: nothing does
	Down   string `json:"down"`   // and one less
	Wraps  bool   `json:"wraps"`  // after the last value comes the first
	Next   string `json:"next"`   // how the next level is reached
	Keeps  string `json:"keeps"`  // what keeps what was counted
	Levels []Rank `json:"levels" jsonschema:"required,minItems=1,maxItems=64"`
}

// mostCounted bounds the values of a chart, over all its levels.
const mostCounted = 256

// Rank is one level of a chart.
type Rank struct {
	Says   string    `json:"says"` // what is chosen on it, in words
	Pin    int       `json:"pin" jsonschema:"minimum=0,maximum=256"`
	Values []Counted `json:"values" jsonschema:"required,minItems=1,maxItems=64"`
}

// Counted is a number of flashes and what it means; what it says nothing of it leaves as it is.
type Counted struct {
	Code  int    `json:"code" jsonschema:"required,minimum=1,maximum=99"`
	Label string `json:"label"`
	// 0: it chooses no pin
	Pin   int     `json:"pin" jsonschema:"minimum=0,maximum=256"`
	Sends string  `json:"sends" jsonschema:"enum=pulses,enum=switch"`
	On    string  `json:"on" jsonschema:"enum=above,enum=below"`
	AtUS  float64 `json:"at_us" jsonschema:"minimum=0,maximum=20000" unit:"µs"` // 0: not said
	Level string  `json:"level" jsonschema:"enum=low,enum=high"`
}

// PinCode is what was counted into a pin: the codes of the levels that concern it, in their order.
type PinCode struct {
	Pin     int   `json:"pin" jsonschema:"required,minimum=1,maximum=256"`
	Written []int `json:"written" jsonschema:"maxItems=64"`
	Steady  *bool `json:"steady"` // a lamp on it is fully on or off, and does not flicker; nil: not tried
}

func (Chart) describe() docs {
	return docs{
		"label":  "what you call it",
		"enters": "how the first level is reached, in words",
		"up":     "what makes the value one more, in words; left out, nothing does",
		"down":   "what makes the value one less, in words; left out, nothing does",
		"wraps":  "whether the first value comes after the last one",
		"next":   "how the next level is reached, in words",
		"keeps":  "what keeps what was counted, in words",
		"levels": "the levels, in the order in which they come",
	}
}

func (Rank) describe() docs {
	return docs{
		"says":   "what is chosen on it, in words",
		"pin":    "the pin that it belongs to; 0: the one that was chosen on a level before",
		"values": "the numbers of flashes that it knows, and what each means",
	}
}

func (Counted) describe() docs {
	return docs{
		"code":  "the number of flashes",
		"label": "what it means, in words",
		"pin":   "the pin that it chooses; 0 is none",
		"sends": "servo pulses, or on and off; left out, it says nothing of it",
		"on":    "whether the pin is on above the pulse at which it switches, or below",
		"at_us": "the pulse at which it switches, microseconds; 0: it says nothing of it",
		"level": "what the pin puts out while it is on: pulled low, or high",
	}
}

func (PinCode) describe() docs {
	return docs{
		"pin":     "the pin",
		"written": "the code that was counted into each level that concerns it; 0 is not yet",
		"steady":  "whether a lamp on it is fully on or off, and does not flicker",
	}
}

// codes looks at the charts of receivers, and at what was counted into their pins.
func (c *checker) codes() {
	for i := range c.s.Receivers {
		r := &c.s.Receivers[i]
		path := fmt.Sprintf("receivers[%d]", i)
		if r.Chart != nil {
			values := 0
			for j, level := range r.Chart.Levels {
				if values += len(level.Values); values > mostCounted {
					c.wrong(fmt.Sprintf("%s.chart.levels[%d].values", path, j),
						fmt.Sprintf("is more than the %d values that a chart may have", mostCounted),
						"leave out what no pin of this receiver is set to")
					break
				}
				at := fmt.Sprintf("%s.chart.levels[%d]", path, j)
				seen := map[int]string{}
				for k, v := range level.Values {
					twice(c, fmt.Sprintf("%s.values[%d].code", at, k), seen, v.Code, "the code is %s too",
						"name each number of flashes once")
					if v.Pin > 0 && level.Pin > 0 {
						c.wrong(fmt.Sprintf("%s.values[%d].pin", at, k), "chooses a pin on a level that belongs to one",
							"leave one of the two out")
					}
				}
			}
		}
		seen := map[int]string{}
		for j, code := range r.Codes {
			at := fmt.Sprintf("%s.codes[%d]", path, j)
			twice(c, at+".pin", seen, code.Pin, "the pin is %s too", "name each pin once")
			for k, n := range code.Written {
				if n < 0 || n > 99 {
					c.wrong(fmt.Sprintf("%s.written[%d]", at, k), "is no number of flashes", "write 1 to "+
						"99, or 0 for not yet")
				}
			}
		}
	}
}

// BoxChart says how a step box is set by its button and the flashes of its lamp, level by level. It
// changes nothing
// of what is computed.
type BoxChart struct {
	Label  string     `json:"label"`
	Enters string     `json:"enters"` // how the first level is reached
	Up     string     `json:"up"`     // what makes the value one more
	Next   string     `json:"next"`   // how the next level is reached
	Keeps  string     `json:"keeps"`  // what keeps what was counted
	Levels []BoxLevel `json:"levels" jsonschema:"required,minItems=1,maxItems=8"`
}

// BoxLevel is one level: what of the box it sets, by which numbers of flashes.
type BoxLevel struct {
	Sets   string    `json:"sets" jsonschema:"required,enum=steps,enum=start,enum=loss"`
	Values []BoxCode `json:"values" jsonschema:"required,minItems=1,maxItems=16"`
}

// BoxCode is a number of flashes and what it makes of what its level sets; of loss 0 is that it stays.
type BoxCode struct {
	Code int `json:"code" jsonschema:"required,minimum=1,maximum=99"`
	Is   int `json:"is" jsonschema:"required,minimum=0,maximum=8"`
}

func (BoxChart) describe() docs {
	return docs{
		"label":  "what you call it",
		"enters": "how the first level is reached, in words",
		"up":     "what makes the value one more, in words",
		"next":   "how the next level is reached, in words",
		"keeps":  "what keeps what was counted, in words",
		"levels": "the levels, in the order in which they come",
	}
}

func (BoxLevel) describe() docs {
	return docs{
		"sets":   "what of the box it sets: how many steps it has, the first of them, or where it goes at a loss",
		"values": "the numbers of flashes that it knows, and what each means",
	}
}

func (BoxCode) describe() docs {
	return docs{
		"code": "the number of flashes",
		"is":   "what it makes of what the level sets; of a loss 0 is that the box stays",
	}
}

// checkChart looks at the chart of a step box.
func (b *StepBox) checkChart(c *checker, path string) {
	if b.Chart == nil {
		return
	}
	sets := map[string]string{}
	for j, level := range b.Chart.Levels {
		at := fmt.Sprintf("%s.chart.levels[%d]", path, j)
		twice(c, at+".sets", sets, level.Sets, "the level is %s too", "let each level set something else")
		seen := map[int]string{}
		for k, v := range level.Values {
			twice(c, fmt.Sprintf("%s.values[%d].code", at, k), seen, v.Code, "the code is %s too",
				"name each number of flashes once")
		}
	}
}
