package report

import (
	"time"

	"dynacor/core/record"
)

// Sealed is a sealed record as it is printed.
type Sealed struct {
	Record record.Record
	Mark   string // digest of the file, in hex; its beginning stands on every sheet
	KeyID  string // of the key that signed it

	Target                string
	TightenedBy, ProvedBy string
	SealedAt              time.Time
	Address               string // where Dynacor is found, for the code on a tag; "": not said

	Photos map[string]Photo // by identifier

	Additions []record.Addition // what was added behind the seal
}

// Photo is a picture as it was shown at the joint.
type Photo struct {
	MediaType string
	Bytes     []byte
}
