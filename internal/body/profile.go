package body

// Profile is what sets a dialect's statements apart from those of the others
// that follow SQL/PSM or PL/SQL.
type Profile struct {
	// QueriesSend is set where a query on its own sends rows to the caller.
	QueriesSend bool
	// CursorsSend is set where a cursor declared WITH RETURN sends rows when opened.
	CursorsSend bool
	// OutputCursors is set where rows go to the caller through a parameter that
	// is a cursor, opened for a query.
	OutputCursors bool
	// ColonAssigns and EqualsAssigns are set where name := value, or name =
	// value, is a statement.
	ColonAssigns, EqualsAssigns bool
	// Sections is set where DECLARE begins a section of declarations.
	Sections bool
	// BareCalls is set where a name with arguments is a statement that calls.
	BareCalls bool
	// SingleBranches is set where IF, WHILE and FOR govern one statement.
	SingleBranches bool
	// ExitReturns is set where EXIT ends the routine and not a loop.
	ExitReturns bool
	// TextNames is set where a column without a name is named by its text.
	TextNames bool
	// HandlerArms is set where BEGIN … EXCEPTION WHEN … END handles errors.
	HandlerArms bool
	// BareTransaction is set where BEGIN before a semicolon begins a transaction.
	BareTransaction bool
	// Macro is set for statements in the brackets of a macro.
	Macro bool
}

// The profiles of the dialects.
var (
	// MySQLProfile is MySQL's ("Compound statement syntax").
	MySQLProfile = Profile{QueriesSend: true, TextNames: true}
	// MariaDBOracleProfile is that of sql_mode=ORACLE ("sql_mode=ORACLE").
	MariaDBOracleProfile = Profile{QueriesSend: true, TextNames: true, ColonAssigns: true, Sections: true, BareCalls: true, HandlerArms: true, OutputCursors: true}
	// OracleProfile is PL/SQL's ("PL/SQL language elements").
	OracleProfile = Profile{ColonAssigns: true, Sections: true, BareCalls: true, HandlerArms: true, OutputCursors: true}
	// PLpgSQLProfile is PL/pgSQL's ("PL/pgSQL: SQL procedural language").
	PLpgSQLProfile = Profile{ColonAssigns: true, EqualsAssigns: true, Sections: true, HandlerArms: true, OutputCursors: true}
	// HANAProfile is SQLScript's ("Declarative and imperative SQLScript logic").
	HANAProfile = Profile{QueriesSend: true, ColonAssigns: true, EqualsAssigns: true}
	// SnowflakeProfile is Snowflake Scripting's ("Snowflake Scripting reference").
	SnowflakeProfile = Profile{ColonAssigns: true, Sections: true, HandlerArms: true, BareTransaction: true}
	// Db2Profile is SQL PL's ("Compound SQL (compiled)").
	Db2Profile = Profile{CursorsSend: true}
	// FirebirdProfile is PSQL's ("Procedural SQL statements").
	FirebirdProfile = Profile{EqualsAssigns: true, ColonAssigns: true, Sections: true, SingleBranches: true, ExitReturns: true}
	// TeradataProfile is that of stored procedures in Teradata ("SQL control statements").
	TeradataProfile = Profile{CursorsSend: true}
	// MacroProfile is that of Teradata's macros ("CREATE MACRO").
	MacroProfile = Profile{QueriesSend: true, Macro: true}
	// StandardProfile is that of ISO/IEC 9075-4 as HSQLDB runs it.
	StandardProfile = Profile{CursorsSend: true}
)
