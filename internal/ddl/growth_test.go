package ddl_test

import (
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"

	"ramekin/internal/ddl"
)

// TestRepeatedPieces reads long repetitions of what opens something, or might:
// none may cost more than its length allows, in any dialect. The limit is far
// above what the slowest machine needs, and far below what a square would take.
func TestRepeatedPieces(t *testing.T) {
	const size, limit = 20 << 10, 20 * time.Second
	for _, piece := range []string{
		"(", "((a,", "BEGIN ", "CREATE ", "CREATE PROCEDURE p(", "CREATE PROCEDURE p AS ", "CREATE OR REPLACE PACKAGE p IS ", "IF a THEN ", "CASE WHEN ", "a.", "a(",
		"a(b) := ", "PROCEDURE p IS ", "FUNCTION f RETURN n IS BEGIN ", "DECLARE x ", "DECLARE EXIT HANDLER FOR ", "$a$ ", "q'[ ", "/* ", "'", "\"", "[", "a%TYPE ", "<<a>> ",
		"WITH a AS (", "SELECT (", "CREATE TYPE t AS ", "CREATE TYPE t AS OBJECT (MEMBER FUNCTION f ", "END ", "END IF; ", "LOOP ", "FOR x IN ", "SET TERM ^ ;\n", "DELIMITER a\n", "\n/\n",
		"--#SET TERMINATOR @\n", "$IF a $THEN ", "EXECUTE PROCEDURE p(", "CALL p(", "CREATE FUNCTION f(a int[", "ROW(a ", "TABLE (a ", "a => ", "{{ ", "&a ", ":a ", "@a ", "DO $$ CREATE ",
	} {
		text := []byte("CREATE PROCEDURE a AS BEGIN " + strings.Repeat(piece, size/len(piece)))
		for _, d := range ddl.Dialects {
			for _, src := range [][]byte{text, text[len("CREATE PROCEDURE a AS BEGIN "):]} {
				begin := time.Now()
				ddl.Assemble([]*ddl.File{ddl.Read("a.sql", src, d, ddl.Options{Detail: true})})
				assert.Less(t, time.Since(begin), limit, "%s: %q", d.Name, piece)
			}
		}
		ddl.Detect(text)
	}
}
