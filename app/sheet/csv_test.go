package sheet

import (
	"bytes"
	"encoding/csv"
	"os"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"axtren/core/setup"
	"axtren/core/sheet"
	"axtren/core/signal"
)

func build(t *testing.T, change func(string) string) *sheet.Sheet {
	text, err := os.ReadFile("../../demo/stoat.yaml")
	require.NoError(t, err)
	doc, err := setup.ReadYAML([]byte(change(string(text))))
	require.NoError(t, err)
	p, err := signal.Compile(doc.Setup)
	require.NoError(t, err)
	return sheet.Build(p)
}

// TestStoatSheet is worked by hand from demo/stoat.yaml: the starboard track is
// reversed, so pushing the stick forward leads to its low stop, -96 percent,
// 1500 - 96*5 = 1020 us.
func TestStoatSheet(t *testing.T) {
	sh := build(t, func(s string) string { return s })
	require.Contains(t, sh.Sections[2].Caution, "tracks clear of the ground")
	var b bytes.Buffer
	require.NoError(t, CSV(&b, sh))
	rows, err := csv.NewReader(&b).ReadAll()
	require.NoError(t, err)
	have := map[string]bool{}
	for _, row := range rows {
		have[strings.Join(row, "|")] = true
	}
	for _, want := range []string{
		"Memory||memory|3||",
		"Channels|2|Right track|by mixes||Ten-pin receiver, pin 2: right controller",
		"Channels|3|Blade lift|Left stick, up and down||Ten-pin receiver, pin 3: lift valve servo",
		"Direction|2|Right track|reversed||", "Direction|1|Left track|normal||",
		"Centre|5|Pump|-20|1400|",
		"Ends|1|Left track, stick forward|94|1970|", "Ends|1|Left track, stick back|96|1020|",
		"Ends|2|Right track, stick forward|96|1020|", "Ends|2|Right track, stick back|94|1970|",
		"Feel||drive, expo (softer for +)|+20||", "Feel||drive, rate with Front switch at road|60||",
		"Mixes|2|Right stick, right to Right track|-80||",
		"Mixes|5|Blade angle as asked to Pump|+200||either way counts, bias -100, the greater",
		"Speed|4|Blade angle|1.5 s||",
		"When the signal is lost|1|Left track|'go to 0|1500|counted -100 to +100",
	} {
		if !have[strings.Replace(want, "'", "", 1)] {
			t.Errorf("the sheet lacks %q", want)
		}
	}
}

func TestEndsBeyondTheSetAreMarked(t *testing.T) {
	sh := build(t, func(s string) string {
		return strings.Replace(s, "endpoint_max: 120", "endpoint_max: 95",
			1)
	})
	for _, sec := range sh.Sections {
		for _, it := range sec.Items {
			if it.What == "Left track, stick back" {
				require.Equal(t, "this transmitter goes to 95 only", it.Note)
				return
			}
		}
	}
	t.Fatal("no end of the port track")
}

func TestCellsAreNoFormulas(t *testing.T) {
	require.Equal(t, "'=1+1", plain("=1+1"))
	require.Equal(t, "'-a", plain("−a"))
	require.Equal(t, "-80", plain("−80"))
	for _, hidden := range []string{"\n=1+1", " =1+1", "\r\n@a", "\u00a0=1", "\ufeff=1", "＝1+1", "＋a", "－a",
		"＠a", "\t=1", "\tx", "@a", "+a"} {
		require.Equal(t, "'"+hidden, plain(hidden), "%q", hidden)
	}
	for _, harmless := range []string{"Left track", " indented", "a=1", "1 - 2", "", "+5", "a\nb"} {
		require.Equal(t, harmless, plain(harmless))
	}
}
