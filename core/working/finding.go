package working

// Severity of a finding.
type Severity string

// The severities: to know, to mind, nothing goes on.
const (
	Info    Severity = "info"
	Caution Severity = "caution"
	Stop    Severity = "stop"
)

// Code names what a finding or a deviation is about, the same in every language.
type Code string

// Finding is a judgement: what, why, and what to do.
type Finding struct {
	Severity Severity `json:"severity"`
	Code     Code     `json:"code"`
	What     string   `json:"what"`
	Why      string   `json:"why,omitempty"`
	Remedy   string   `json:"remedy,omitempty"`
}
