package source

import (
	"bytes"
	"errors"
	"os"
	"unicode/utf8"

	"golang.org/x/text/encoding"
	"golang.org/x/text/encoding/charmap"
	"golang.org/x/text/encoding/unicode"
)

// The faults of a file that is no text to read.
var (
	ErrBinary  = errors.New("this is a binary file, not text; exclude it or name the right file")
	ErrTooLong = errors.New("this file is over 1 GiB; split it")
)

const longestText = 1 << 30

// ReadText reads a file and decodes it: UTF-8, UTF-16 with a byte-order mark,
// else ISO 8859-1. The byte-order mark is left out.
func ReadText(path string) ([]byte, error) {
	info, err := os.Stat(path)
	if err != nil {
		return nil, err
	}
	if info.Size() > longestText {
		return nil, ErrTooLong
	}
	data, err := os.ReadFile(path)
	if err != nil {
		return nil, err
	}
	return Decode(data)
}

// Decode gives data as UTF-8 without a byte-order mark.
func Decode(data []byte) ([]byte, error) {
	switch {
	case bytes.HasPrefix(data, []byte("\xef\xbb\xbf")):
		data = data[3:]
	case bytes.HasPrefix(data, []byte("\xff\xfe")), bytes.HasPrefix(data, []byte("\xfe\xff")):
		return decodeWith(unicode.UTF16(unicode.LittleEndian, unicode.ExpectBOM), data)
	}
	if bytes.IndexByte(data[:min(len(data), 8192)], 0) >= 0 {
		return nil, ErrBinary
	}
	if !utf8.Valid(data) {
		return decodeWith(charmap.ISO8859_1, data)
	}
	return data, nil
}

func decodeWith(e encoding.Encoding, data []byte) ([]byte, error) {
	return e.NewDecoder().Bytes(data)
}
