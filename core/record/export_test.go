package record

// StrictText is the canonical text that the strict reader gives.
func StrictText(data []byte) ([]byte, error) {
	text, _, err := strict(data)
	return text, err
}
