// Package starts holds, for each kind of craft, a setup to begin with: the few
// lines that such a craft usually has, on a plain set with two sticks. That these
// are the usual ones is common practice, no source.
package starts

import (
	"embed"
	"fmt"

	"axtren/core/setup"
)

//go:embed *.yaml
var files embed.FS

// Kind is a kind of craft with the lines that its start has.
type Kind struct {
	Kind  string `json:"kind"`
	Label string `json:"label"`
	Words string `json:"words"`
}

// Kinds lists the kinds in the order in which they are offered.
func Kinds() []Kind {
	return []Kind{
		{"boat", "Boat", "two screws mixed with the rudder, horn"},
		{"tracked", "Tracked model", "a pair of tracks on one stick, lamps"},
		{"car", "Car", "steering, drive with brake, lamps"},
		{"truck", "Truck", "steering, drive, gearbox, indicators"},
		{"construction", "Construction machine", "tracks, boom, bucket, slewing"},
		{"submarine", "Submarine", "screw, rudder, planes, ballast with a loss position"},
		{"amphibian", "Amphibian", "steering, drive, screw, bow ramp"},
		{"other", "Something else", "two sticks and nothing on them yet"},
	}
}

// Start reads the setup that a kind begins with.
func Start(kind string) (*setup.Document, error) {
	for _, k := range Kinds() {
		if k.Kind != kind {
			continue
		}
		head, err := files.ReadFile("set.yaml")
		if err != nil {
			return nil, err
		}
		text, err := files.ReadFile(kind + ".yaml")
		if err != nil {
			return nil, err
		}
		return setup.ReadYAML(fmt.Appendf(nil,
			"format: axtren-setup\nversion: 1\nname: New %s\ncraft: {kind: %s}\n\n%s\n%s", article(k.Label),
			kind, head, text))
	}
	return nil, setup.Problems{{Path: "kind", Value: kind, Message: "is no kind of craft",
		Remedy: "use boat, tracked, car, truck, construction, submarine, amphibian or other"}}
}

func article(label string) string {
	if label == "Something else" {
		return "model"
	}
	return string(label[0]|0x20) + label[1:]
}
