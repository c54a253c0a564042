package words

// Severities of what a person should look at, the worst first.
const (
	Error   = "error"
	Warning = "warning"
	Note    = "note"
)
