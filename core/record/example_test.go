package record_test

import (
	"bytes"
	"crypto/ed25519"
	"fmt"

	"dynacor/core/coretest"
	"dynacor/core/record"
)

// A finished run is signed and can be checked by whoever has the public key; what was altered is named.
func ExampleVerify() {
	rec, err := coretest.Finished((*coretest.Script).Finish)
	if err != nil {
		fmt.Println(err)
		return
	}
	key := coretest.Key('x')
	file, _ := record.Sign(rec, key, coretest.Day)
	text, _ := file.Bytes()
	known := record.Trust(key.Public().(ed25519.PublicKey))
	fmt.Println(record.Verify(text, known).OK)

	altered := bytes.Replace(text, []byte(`"M. Tolley"`), []byte(`"M. Nobody"`), 1)
	for _, p := range record.Verify(altered, known).Problems {
		fmt.Println(p)
	}
	// Output:
	// true
	// The signature does not fit: number, joint, time, key, a digest in the seal or the record itself was changed.
	// The record is not the one that was sealed.
	// Event 1 was changed.
	// Event 1 (read_confirmed, M. Nobody) was changed after it was recorded.
}
