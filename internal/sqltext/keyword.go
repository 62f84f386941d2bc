package sqltext

import "encoding/binary"

// Keyword identifies a word that the readers look for often. Words that only
// one dialect knows need none: see [Token.Is].
type Keyword uint16

// The keywords, in the order of keywordNames.
const (
	NoKeyword Keyword = iota
	ADD
	AFTER
	AGGREGATE
	ALTER
	ANALYZE
	AND
	AS
	ATOMIC
	BEGIN
	BLOCK
	BODY
	BREAK
	BULK
	BY
	CALL
	CASE
	CATCH
	CHECK
	CLOSE
	COLLATE
	COMMENT
	COMMIT
	CONTINUE
	CONVERSATION
	CREATE
	CROSS
	CURSOR
	DEALLOCATE
	DECLARE
	DEFAULT
	DEFINER
	DELETE
	DELIMITER
	DENY
	DESC
	DESCRIBE
	DIALOG
	DISTINCT
	DISTRIBUTED
	DO
	DROP
	ELSE
	ELSEIF
	ELSIF
	END
	EVENT
	EXCEPT
	EXCEPTION
	EXEC
	EXECUTE
	EXISTS
	EXIT
	EXPLAIN
	EXTERNAL
	FETCH
	FOR
	FROM
	FULL
	FUNCTION
	GET
	GOTO
	GRANT
	GROUP
	HANDLER
	HAVING
	IF
	IN
	INNER
	INOUT
	INSERT
	INTERSECT
	INTO
	IS
	ITERATE
	JOIN
	KILL
	LANGUAGE
	LEAVE
	LEFT
	LIBRARY
	LIMIT
	LOOP
	MACRO
	MERGE
	NATIVE
	NOT
	NULL
	OFFSET
	ON
	OPEN
	OPTION
	OR
	ORDER
	OUT
	OUTER
	OUTPUT
	PACKAGE
	PERFORM
	PREPARE
	PRINT
	PROC
	PROCEDURE
	RAISE
	RAISERROR
	READONLY
	RECEIVE
	REPEAT
	REPLACE
	REPLICATION
	RESULT
	RETURN
	RETURNING
	RETURNS
	REVOKE
	RIGHT
	ROLLBACK
	SAVE
	SCHEMA
	SELECT
	SEND
	SET
	SHOW
	SIGNAL
	SONAME
	SUSPEND
	TABLE
	THEN
	THROW
	TIMER
	TOP
	TRAN
	TRANSACTION
	TRIGGER
	TRUNCATE
	TRY
	TYPE
	UNION
	UNTIL
	UPDATE
	USE
	USING
	VALUES
	VARYING
	VIEW
	WAITFOR
	WHEN
	WHERE
	WHILE
	WINDOW
	WITH
	keywordCount
)

var keywordNames = [keywordCount]string{
	"", "add", "after", "aggregate", "alter", "analyze", "and", "as", "atomic", "begin", "block", "body", "break",
	"bulk", "by", "call", "case", "catch", "check", "close", "collate", "comment", "commit", "continue",
	"conversation", "create", "cross", "cursor", "deallocate", "declare", "default", "definer", "delete", "delimiter",
	"deny", "desc", "describe", "dialog", "distinct", "distributed", "do", "drop", "else", "elseif", "elsif", "end",
	"event", "except", "exception", "exec", "execute", "exists", "exit", "explain", "external", "fetch", "for",
	"from", "full", "function", "get", "goto", "grant", "group", "handler", "having", "if", "in", "inner", "inout",
	"insert", "intersect", "into", "is", "iterate", "join", "kill", "language", "leave", "left", "library", "limit",
	"loop", "macro", "merge", "native", "not", "null", "offset", "on", "open", "option", "or", "order", "out",
	"outer", "output", "package", "perform", "prepare", "print", "proc", "procedure", "raise", "raiserror",
	"readonly", "receive", "repeat", "replace", "replication", "result", "return", "returning", "returns", "revoke",
	"right", "rollback", "save", "schema", "select", "send", "set", "show", "signal", "soname", "suspend", "table",
	"then", "throw", "timer", "top", "tran", "transaction", "trigger", "truncate", "try", "type", "union", "until",
	"update", "use", "using", "values", "varying", "view", "waitfor", "when", "where", "while", "window", "with",
}

const (
	keywordSlots  = 2048 // a power of two
	keywordShift  = 64 - 11
	maxKeywordLen = 12
	// lowerBits makes letters lower case, eight at a time. It changes other
	// characters too, but into none that a keyword has.
	lowerBits = 0x2020202020202020
	hashPrime = 0x9E3779B97F4A7C15
)

// keywordEntry is a keyword with its letters packed, eight and the rest.
type keywordEntry struct {
	head, tail uint64
	kw         Keyword
}

// keywordTable is an open-addressed hash table from folded words to keywords.
var keywordTable = func() (table [keywordSlots]keywordEntry) {
	for k := Keyword(1); k < keywordCount; k++ {
		word := []byte(keywordNames[k])
		e := keywordEntry{pack(word), 0, k}
		if len(word) > 8 {
			e.tail = pack(word[8:])
		}
		slot := keywordHash(e.head, e.tail)
		for table[slot].kw != NoKeyword {
			slot = (slot + 1) % keywordSlots
		}
		table[slot] = e
	}
	return table
}()

func keywordHash(head, tail uint64) uint64 { return (head ^ tail<<7) * hashPrime >> keywordShift }

// pack folds up to eight bytes into one word, the first in the lowest bits.
func pack(b []byte) uint64 {
	var v uint64
	for i := min(len(b), 8) - 1; i >= 0; i-- {
		v = v<<8 | uint64(b[i]|0x20)
	}
	return v
}

// lookupKeyword returns the keyword that src[start:end] spells in any case.
func lookupKeyword(src []byte, start, end int) Keyword {
	n := end - start
	if n < 2 || n > maxKeywordLen {
		return NoKeyword
	}
	var head, tail uint64
	if n <= 8 {
		if start+8 <= len(src) {
			head = binary.LittleEndian.Uint64(src[start:]) | lowerBits
			head &= 1<<(uint(n)*8) - 1
		} else {
			head = pack(src[start:end])
		}
	} else {
		head = binary.LittleEndian.Uint64(src[start:]) | lowerBits
		tail = pack(src[start+8 : end])
	}
	for slot := keywordHash(head, tail); ; slot = (slot + 1) % keywordSlots {
		e := &keywordTable[slot]
		if e.kw == NoKeyword || e.head == head && e.tail == tail {
			return e.kw
		}
	}
}

// equalFold reports whether word spells lower, an ASCII word in lower case.
func equalFold(word []byte, lower string) bool {
	if len(word) != len(lower) {
		return false
	}
	for i, c := range word {
		if 'A' <= c && c <= 'Z' {
			c |= 0x20
		}
		if c != lower[i] {
			return false
		}
	}
	return true
}
