package httpapi

import "net/http"

// rawRecord sends a sealed file byte for byte: writing it anew could change what was signed.
type rawRecord []byte

// VisitGetRecordFileResponse writes the file.
func (r rawRecord) VisitGetRecordFileResponse(w http.ResponseWriter) error { return r.write(w) }

// VisitGetWholeRecordResponse writes the file with its additions.
func (r rawRecord) VisitGetWholeRecordResponse(w http.ResponseWriter) error { return r.write(w) }

// VisitGetElsewhereFileResponse writes the file of another site.
func (r rawRecord) VisitGetElsewhereFileResponse(w http.ResponseWriter) error { return r.write(w) }

// VisitGetPressureTestFileResponse writes the sealed sheet of a test.
func (r rawRecord) VisitGetPressureTestFileResponse(w http.ResponseWriter) error { return r.write(w) }

func (r rawRecord) write(w http.ResponseWriter) error {
	w.Header().Set("Content-Type", "application/json")
	w.WriteHeader(http.StatusOK)
	_, err := w.Write(r)
	return err
}
