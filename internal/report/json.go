package report

import (
	"encoding/json"
	"io"
	"strconv"
)

// JSON writes v indented and with one line feed at the end.
func JSON(w io.Writer, v any) error {
	enc := json.NewEncoder(w)
	enc.SetEscapeHTML(false)
	enc.SetIndent("", "  ")
	return enc.Encode(v)
}

func itoa(n int) string { return strconv.Itoa(n) }
