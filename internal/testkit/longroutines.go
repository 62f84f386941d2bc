package testkit

import (
	"fmt"
	"strings"
)

// longRoutine is how a dialect writes the routine that [Long] repeats.
type longRoutine struct {
	begin, head, tail string
	// assign and condition are the forms of an assignment and of a branch.
	assign, condition, end string
}

const longPart = `
  -- Part %[1]d: the passes of one route are charged together, so that the desk can go on selling
  -- while this runs. A pass without an account is left for the morning shift to look at.
  IF {EXISTS (SELECT 1 FROM passes p WHERE p.sailing_day = p_day AND p.settled_at IS NULL AND p.part = %[1]d)}
    UPDATE passes
    SET settled_at = CURRENT_TIMESTAMP,
        amount = CASE WHEN is_child = 1 THEN ROUND(amount * 0.5, 2) ELSE amount END
    WHERE sailing_day = p_day AND part = %[1]d AND (p_route IS NULL OR route = p_route)
      AND account IN (SELECT a.account FROM accounts a WHERE a.state <> 'closed' AND a.currency = 'EUR');
    {v_rows = v_rows + 1};
    {p_settled = p_settled + v_rows};
    INSERT INTO journal (day, part, passes, written_at, remark)
    VALUES (p_day, %[1]d, v_rows, CURRENT_TIMESTAMP, 'Settled as usual; see the log of the ramp for passes that were read twice.');
    DELETE FROM waiting WHERE sailing_day = p_day AND part = %[1]d AND remark LIKE '%%seen%%' AND held_until < CURRENT_TIMESTAMP;
  {END}
`

// longRoutines are the forms of each dialect beside sqlserver and mysql.
var longRoutines = map[string]longRoutine{
	"mariadb": {
		begin: "DELIMITER $$\n", assign: "SET %s = %s", condition: "%s THEN", end: "END IF;",
		head: "CREATE OR REPLACE PROCEDURE settle_%d(IN p_day DATE, IN p_route CHAR(3), OUT p_settled INT, OUT p_message VARCHAR(400))\nBEGIN\n  DECLARE v_rows INT DEFAULT 0;\n",
		tail: "  SELECT route, COUNT(*) AS passes FROM passes GROUP BY route;\nEND$$\n",
	},
	"postgresql": {
		assign: "%s := %s", condition: "%s THEN", end: "END IF;",
		head: "CREATE OR REPLACE PROCEDURE settle_%d(IN p_day date, IN p_route char(3), INOUT p_settled integer DEFAULT 0, INOUT p_rows refcursor DEFAULT NULL)\nLANGUAGE plpgsql AS $body$\nDECLARE\n  v_rows integer := 0;\nBEGIN\n",
		tail: "  OPEN p_rows FOR SELECT route, COUNT(*) AS passes FROM passes GROUP BY route;\nEND\n$body$;\n",
	},
	"oracle": {
		assign: "%s := %s", condition: "%s THEN", end: "END IF;",
		head: "CREATE OR REPLACE PROCEDURE settle_%d(p_day IN DATE, p_route IN VARCHAR2, p_settled OUT NUMBER, p_rows OUT SYS_REFCURSOR)\nIS\n  v_rows PLS_INTEGER := 0;\nBEGIN\n",
		tail: "  OPEN p_rows FOR SELECT route, COUNT(*) AS passes FROM passes GROUP BY route;\nEND;\n/\n",
	},
	"hana": {
		assign: "%s = %s", condition: "%s THEN", end: "END IF;",
		head: "CREATE PROCEDURE SETTLE_%d (IN p_day DATE, IN p_route NVARCHAR(3), OUT p_settled INTEGER, OUT p_message NVARCHAR(400))\nLANGUAGE SQLSCRIPT SQL SECURITY INVOKER AS\nBEGIN\n  DECLARE v_rows INTEGER DEFAULT 0;\n",
		tail: "  SELECT route, COUNT(*) AS passes FROM passes GROUP BY route;\nEND;\n",
	},
	"snowflake": {
		assign: "%s := %s", condition: "(%s) THEN", end: "END IF;",
		head: "CREATE OR REPLACE PROCEDURE settle_%d(p_day DATE, p_route VARCHAR, p_settled OUT INT)\nRETURNS VARCHAR LANGUAGE SQL EXECUTE AS CALLER AS\nDECLARE\n  v_rows INT DEFAULT 0;\nBEGIN\n",
		tail: "  RETURN 'done';\nEND;\n",
	},
	"db2": {
		begin: "--#SET TERMINATOR @\n", assign: "SET %s = %s", condition: "%s THEN", end: "END IF;",
		head: "CREATE OR REPLACE PROCEDURE SETTLE_%d (IN p_day DATE, IN p_route CHAR(3), OUT p_settled INTEGER, OUT p_message VARCHAR(400))\n  DYNAMIC RESULT SETS 1 LANGUAGE SQL\nBEGIN\n  DECLARE v_rows INTEGER DEFAULT 0;\n  DECLARE c1 CURSOR WITH RETURN FOR SELECT route, COUNT(*) AS passes FROM passes GROUP BY route;\n",
		tail: "  OPEN c1;\n  RETURN 0;\nEND @\n",
	},
	"firebird": {
		begin: "SET TERM ^ ;\n", assign: "%s = %s", condition: "(%s) THEN BEGIN", end: "END",
		head: "CREATE OR ALTER PROCEDURE SETTLE_%d (p_day DATE, p_route CHAR(3)) RETURNS (p_settled INTEGER, p_message VARCHAR(400)) AS\n  DECLARE VARIABLE v_rows INTEGER = 0;\nBEGIN\n",
		tail: "  SUSPEND;\nEND^\n",
	},
	"teradata": {
		assign: "SET %s = %s", condition: "%s THEN", end: "END IF;",
		head: "REPLACE PROCEDURE settle_%d (IN p_day DATE, IN p_route CHAR(3), OUT p_settled INTEGER, OUT p_message VARCHAR(400))\n  DYNAMIC RESULT SETS 1\nBEGIN\n  DECLARE v_rows INTEGER DEFAULT 0;\n",
		tail: "END;\n",
	},
	"sqlpsm": {
		assign: "SET %s = %s", condition: "%s THEN", end: "END IF;",
		head: "CREATE PROCEDURE settle_%d(IN p_day DATE, IN p_route CHAR(3), OUT p_settled INTEGER, OUT p_message VARCHAR(400)) MODIFIES SQL DATA\nBEGIN ATOMIC\n  DECLARE v_rows INTEGER DEFAULT 0;\n",
		tail: "END;\n",
	},
}

// Long is a script of procedures of some 120 lines each in a dialect, size
// bytes long or a little more.
func Long(dialect string, size int) []byte {
	switch dialect {
	case "sqlserver":
		return LongSQLServer(size)
	case "mysql":
		return LongMySQL(size)
	}
	f := longRoutines[dialect]
	part := longPart
	for _, v := range [][2]string{{"v_rows", "v_rows + 1"}, {"p_settled", "p_settled + v_rows"}} {
		part = strings.Replace(part, "{"+v[0]+" = "+v[1]+"}", fmt.Sprintf(f.assign, v[0], v[1]), 1)
	}
	open, closing := strings.Index(part, "{EXISTS"), strings.Index(part, "d)}")+2
	part = part[:open] + fmt.Sprintf(f.condition, part[open+1:closing]) + part[closing+1:]
	part = strings.Replace(part, "{END}", f.end, 1)
	return LongRoutines(size, f.head, part, f.tail, f.begin)
}
