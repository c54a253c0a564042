package contract

// The messages of the socket, ToBench and FromBench of api/openapi.yaml, are one struct
// each here: what a message is stands in T, and the fields of the others are nil. That each
// message is the one that the contract describes is held by the tests of app/web, which
// check every message against it.

// Asked is a message of the page.
type Asked struct {
	T         AskedT          `json:"t"`
	N         *int64          `json:"n,omitempty"`
	Set       *map[string]any `json:"set,omitempty"`
	Page      *string         `json:"page,omitempty"`
	Id        *int64          `json:"id,omitempty"`
	Patch     *Patch          `json:"patch,omitempty"`
	Part      *string         `json:"part,omitempty"`
	Field     *string         `json:"field,omitempty"`
	Value     any             `json:"value,omitempty"`
	Joint     *string         `json:"joint,omitempty"`
	Format    *SaveFormat     `json:"format,omitempty"`
	Control   *string         `json:"control,omitempty"`
	Output    *string         `json:"output,omitempty"`
	Recording *string         `json:"recording,omitempty"`
	Run       *float64        `json:"run,omitempty"`
	Seek      *int64          `json:"seek,omitempty"`
	Complaint *string         `json:"complaint,omitempty"`
	Drill     *string         `json:"drill,omitempty"`
	First     *string         `json:"first,omitempty"`
	Second    *string         `json:"second,omitempty"`
	Rule      *string         `json:"rule,omitempty"`
	Node      *int            `json:"node,omitempty"`
	Device    *string         `json:"device,omitempty"`
	Does      *string         `json:"does,omitempty"`
	Wanted    *bool           `json:"wanted,omitempty"`
	Signal    *string         `json:"signal,omitempty"`
	Frame     *int64          `json:"frame,omitempty"`
	As        *string         `json:"as,omitempty"`
	Signals   *[]string       `json:"signals,omitempty"`
	From      *int64          `json:"from,omitempty"`
	To        *int64          `json:"to,omitempty"`
	Stop      *string         `json:"stop,omitempty"`
}

// AskedT says what a message of the page is.
type AskedT string

// The messages of the page.
const (
	ToHello   AskedT = "hello"
	ToHands   AskedT = "hands"
	ToTry     AskedT = "try"
	ToDrop    AskedT = "drop"
	ToWatch   AskedT = "watch"
	ToSave    AskedT = "save"
	ToPlot    AskedT = "plot"
	ToPlay    AskedT = "play"
	ToTrouble AskedT = "trouble"
	ToStage   AskedT = "stage"
	ToMixing  AskedT = "mixing"
	ToAlone   AskedT = "alone"
	ToStates  AskedT = "states"
	ToWay     AskedT = "way"
	ToLosses  AskedT = "losses"
	ToClaims  AskedT = "claims"
	ToRecord  AskedT = "record"
	ToBecause AskedT = "because"
	ToExport  AskedT = "export"
	ToBeat    AskedT = "beat"
)

// Known tells whether the contract has such a message.
func (t AskedT) Known() bool {
	switch t {
	case ToHello, ToHands, ToTry, ToDrop, ToWatch, ToSave, ToPlot, ToPlay, ToTrouble, ToStage, ToMixing,
		ToAlone, ToStates, ToWay, ToLosses, ToClaims, ToRecord, ToBecause, ToExport, ToBeat:
		return true
	}
	return false
}

// SaveFormat is how what the hands did is wanted.
type SaveFormat string

// The formats of a recording.
const (
	SaveScript SaveFormat = "script"
	SaveCSV    SaveFormat = "csv"
	SaveVCD    SaveFormat = "vcd"
)

// Told is a message of the bench.
type Told struct {
	T       ToldT        `json:"t"`
	Model   *Model       `json:"model,omitempty"`
	Rail    *Rail        `json:"rail,omitempty"`
	FrameMs *int         `json:"frame_ms,omitempty"`
	Trying  *int64       `json:"trying,omitempty"`
	View    *View        `json:"view,omitempty"`
	Changed *ViewChanged `json:"changed,omitempty"`
	Values  *[]float64   `json:"values,omitempty"`
	N       *int64       `json:"n,omitempty"`
	K       *int64       `json:"k,omitempty"`
	At      *[]int       `json:"at,omitempty"`
	V       *[]float64   `json:"v,omitempty"`
	Waits   *[]int       `json:"waits,omitempty"`
	Stage   *Picture     `json:"stage,omitempty"`
	StageAt *int         `json:"stage_at,omitempty"`
	Play    *Playing     `json:"play,omitempty"`
	Joint   *string      `json:"joint,omitempty"`
	Reason  *Reason      `json:"reason,omitempty"`
	Id      *int64       `json:"id,omitempty"`
	Problem *Problem     `json:"problem,omitempty"`
	Text    *string      `json:"text,omitempty"`
	Exact   *bool        `json:"exact,omitempty"`
	Points  *[][]float64 `json:"points,omitempty"`
	Causes  *[]Cause     `json:"causes,omitempty"`
	Words   *StageWords  `json:"words,omitempty"`
	Drill   *Drill       `json:"drill,omitempty"`
	Mixing  *Mixing      `json:"mixing,omitempty"`
	Rule    *string      `json:"rule,omitempty"`
	States  *RuleStates  `json:"states,omitempty"`
	Now     *RuleNow     `json:"now,omitempty"`
	Way     *WayTold     `json:"way,omitempty"`
	Losses  *LossesTold  `json:"losses,omitempty"`
	Claims  *[]ClaimTold `json:"claims,omitempty"`
	Whole   *bool        `json:"whole,omitempty"`
	Strips  *Strips      `json:"strips,omitempty"`
	Signal  *string      `json:"signal,omitempty"`
	Frame   *int64       `json:"frame,omitempty"`
	Steps   *[]CauseStep `json:"steps,omitempty"`
	Missing *[]string    `json:"missing,omitempty"`
	As      *string      `json:"as,omitempty"`
}

// ToldT says what a message of the bench is.
type ToldT string

// The messages of the bench.
const (
	FromWhole   ToldT = "bench"
	FromChanged ToldT = "changed"
	FromFrame   ToldT = "frame"
	FromWhy     ToldT = "why"
	FromRefused ToldT = "refused"
	FromSaved   ToldT = "saved"
	FromPlot    ToldT = "plot"
	FromPlayed  ToldT = "played"
	FromTrouble ToldT = "trouble"
	FromStage   ToldT = "stage"
	FromDrilled ToldT = "drilled"
	FromMixing  ToldT = "mixing"
	FromStates  ToldT = "states"
	FromWay     ToldT = "way"
	FromLosses  ToldT = "losses"
	FromClaims  ToldT = "claims"
	FromRecord  ToldT = "record"
	FromBecause ToldT = "because"
	FromExport  ToldT = "export"
	FromBeat    ToldT = "beat"
	FromKept    ToldT = "kept"
)
