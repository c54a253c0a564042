package rig

import (
	"encoding/json"
	"fmt"
	"io"
	"net/http"
	"strings"
)

// Make sends a document in as a new model, and gives its id.
func (a *App) Make(document string) (id string, err error) {
	r, err := http.NewRequest("POST", a.URL+"/api/models", strings.NewReader(document))
	if err != nil {
		return "", err
	}
	for key, value := range map[string]string{"Axtren-Page": "made", "Axtren-Edit": fmt.Sprint(len(document)),
		"Content-Type": "application/octet-stream"} {
		r.Header.Set(key, value)
	}
	answer, err := http.DefaultClient.Do(r)
	if err != nil {
		return "", err
	}
	defer answer.Body.Close()
	text, err := io.ReadAll(answer.Body)
	if err != nil {
		return "", err
	}
	if answer.StatusCode != http.StatusCreated {
		return "", fmt.Errorf("the model was not made: %s", text)
	}
	var model struct{ ID string }
	return model.ID, json.Unmarshal(text, &model)
}

// Model gives the id of a model by its name.
func (a *App) Model(name string) (id string, err error) {
	answer, err := http.Get(a.URL + "/api/models")
	if err != nil {
		return "", err
	}
	defer answer.Body.Close()
	var models []struct{ ID, Name string }
	if err := json.NewDecoder(answer.Body).Decode(&models); err != nil {
		return "", err
	}
	for _, one := range models {
		if one.Name == name {
			return one.ID, nil
		}
	}
	return "", fmt.Errorf("there is no %s", name)
}

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
