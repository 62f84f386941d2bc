package sqltext

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
	END
	EVENT
	EXCEPT
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
	LIMIT
	LOOP
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
	PREPARE
	PRINT
	PROC
	PROCEDURE
	RAISERROR
	READONLY
	RECEIVE
	REPEAT
	REPLACE
	REPLICATION
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
	"", "add", "after", "aggregate", "alter", "analyze", "and", "as", "atomic", "begin", "break", "bulk", "by",
	"call", "case", "catch", "check", "close", "collate", "comment", "commit", "continue", "conversation",
	"create", "cross", "cursor", "deallocate", "declare", "default", "definer", "delete", "delimiter", "deny",
	"desc", "describe", "dialog", "distinct", "distributed", "do", "drop", "else", "elseif", "end", "event",
	"except", "exec", "execute", "exists", "exit", "explain", "external", "fetch", "for", "from", "full",
	"function", "get", "goto", "grant", "group", "handler", "having", "if", "in", "inner", "inout", "insert",
	"intersect", "into", "is", "iterate", "join", "kill", "language", "leave", "left", "limit", "loop", "merge",
	"native", "not", "null", "offset", "on", "open", "option", "or", "order", "out", "outer", "output",
	"prepare", "print", "proc", "procedure", "raiserror", "readonly", "receive", "repeat", "replace",
	"replication", "return", "returning", "returns", "revoke", "right", "rollback", "save", "schema", "select",
	"send", "set", "show", "signal", "soname", "table", "then", "throw", "timer", "top", "tran", "transaction",
	"trigger", "truncate", "try", "type", "union", "until", "update", "use", "using", "values", "varying", "view",
	"waitfor", "when", "where", "while", "window", "with",
}

const (
	keywordSlots  = 1024
	maxKeywordLen = 12
	hashSeed      = 5381
)

// keywordTable is an open-addressed hash table from folded words to keywords.
var keywordTable = func() (table [keywordSlots]Keyword) {
	for k := Keyword(1); k < keywordCount; k++ {
		h := uint32(hashSeed)
		for i := range len(keywordNames[k]) {
			h = hashByte(h, keywordNames[k][i])
		}
		slot := h % keywordSlots
		for table[slot] != NoKeyword {
			slot = (slot + 1) % keywordSlots
		}
		table[slot] = k
	}
	return table
}()

func hashByte(h uint32, c byte) uint32 { return (h<<5 + h) ^ uint32(c|0x20) }

// lookupKeyword returns the keyword that word spells in any case; h is its hash.
func lookupKeyword(word []byte, h uint32) Keyword {
	if len(word) < 2 || len(word) > maxKeywordLen {
		return NoKeyword
	}
	for slot := h % keywordSlots; ; slot = (slot + 1) % keywordSlots {
		k := keywordTable[slot]
		if k == NoKeyword {
			return NoKeyword
		}
		if equalFold(word, keywordNames[k]) {
			return k
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
