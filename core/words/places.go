package words

// Place is a place of a model on the page, in the order of the work.
type Place struct {
	Key   string // its address
	Title string
}

// Places are the places that there are, in the order of the rail.
var Places = []Place{
	{"kit", "Kit"},
	{"plan", "Plan"},
	{"functions", "Functions"},
	{"mixing", "Mixing"},
	{"rules", "Rules"},
	{"loss", "Loss and start"},
	{"stage", "Stage"},
	{"sheet", "Sheet"},
	{"bench", "Bench"},
	{"log", "Log"},
}

// homes are the places in which the parts of each list live: each in one.
var homes = map[string]string{
	"controls": "kit", "receivers": "kit", "devices": "kit", "transmitter": "kit", "craft": "kit",
	"outputs": "functions", "demands": "functions", "mixes": "functions", "shares": "mixing",
	"logic": "rules", "steppers": "rules", "sequences": "rules", "patterns": "rules", "announcements": "rules",
	"claims": "rules", "start_check": "loss", "link": "loss", "under": "loss", "stage": "stage",
	"plan": "plan", "wiring": "plan", "stand": "functions",
}

// TitleOf gives the title of a place by its key.
func TitleOf(key string) string {
	for _, place := range Places {
		if place.Key == key {
			return place.Title
		}
	}
	return key
}

// Home gives the key of the place in which the parts of a list live, or a group of the
// document such as transmitter; empty where it has none.
func Home(list string) string { return homes[list] }
