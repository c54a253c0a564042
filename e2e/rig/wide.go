package rig

import (
	"fmt"
	"strings"
)

// Stick is a script that makes the function stick: it gives, for a stick by its name, what moves it by a
// pointer event, so many pixels up from its middle.
const Stick = `const stick = (name) => {
  const pad = document.querySelector("[data-stick='" + name + "' i]")
  const box = pad.getBoundingClientRect()
  pad.setPointerCapture = () => {}
  return (type, up) => pad.dispatchEvent(new PointerEvent(type, { pointerId: 1, isPrimary: true, bubbles: true,
    buttons: 1, clientX: box.x + box.width / 2, clientY: box.y + box.height / 2 - up }))
}
`

// Wide gives the document of a model of n functions, named Wide, all of which move as one stick
// does: two tracks and servos, each with a device and a part on the stage.
func Wide(n int) string {
	var outputs, mixes, pins, devices, parts strings.Builder
	for i := range n {
		kind, part := "servo", "{part: dial, label: Dial %d, device: d%d}"
		if i < 2 {
			kind = "esc"
			part = "{part: track, label: Track %d, device: d%d, at_mm: [0, " + fmt.Sprint(250*i-125) +
				"], size_mm: [420, 66]}"
		}
		fmt.Fprintf(&outputs, "  - {id: o%d, label: Function %d, channel: %d}\n", i, i+1, i+1)
		fmt.Fprintf(&mixes, "  - {id: m%d, to: o%d, from: y, gain: %d}\n", i, i, 100-i)
		fmt.Fprintf(&pins, "      - {pin: %d, channel: %d}\n", i+1, i+1)
		fmt.Fprintf(&devices, "  - {id: d%d, label: Device %d, on: rx.%d, kind: %s}\n", i, i+1, i+1, kind)
		fmt.Fprintf(&parts, "    - "+part+"\n", i+1, i)
	}
	return "format: axtren-setup\nversion: 1\nname: Wide\ncraft: {kind: tracked}\ntransmitter:\n  controls:\n" +
		"    - {id: y, kind: axis, stick: right, along: y}\noutputs:\n" + outputs.String() + "mixes:\n" +
		mixes.String() + "receivers:\n  - id: rx\n    pins:\n" + pins.String() + "devices:\n" +
		devices.String() + "stage:\n  top_mm_s: 620\n  track_mm: 250\n  parts:\n" + parts.String()
}
