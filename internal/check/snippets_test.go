package check_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"ramekin/internal/callsite"
	"ramekin/internal/check"
	"ramekin/internal/ddl"
	"ramekin/internal/signature"
)

// findings runs the rules on statements inside a method of the language, or on
// a script, and returns each finding as its rule and message.
func findings(t *testing.T, language, statements string) []string {
	t.Helper()
	index := catalogs(t)
	var calls []*callsite.Call
	switch language {
	case "java":
		src := "import java.sql.*;\nclass A {\n void m(Connection c, int id, String text, java.math.BigDecimal fare) throws SQLException {\n" + statements + "\n }\n}"
		calls = callsite.Analyze([]callsite.File{{Path: "A.java", Text: []byte(src)}}, callsite.Source{})
	case "csharp":
		src := "using System.Data; using Microsoft.Data.SqlClient;\nclass A {\n void M(SqlConnection c, MySqlConnection m, OdbcConnection o, int id, string text) {\n" + statements + "\n }\n}"
		calls = callsite.Analyze([]callsite.File{{Path: "A.cs", Text: []byte(src)}}, callsite.Source{})
	case "sqlserver":
		calls = callsite.FromSQL(ddl.Read("a.sql", []byte(statements), &ddl.SQLServer, ddl.Options{Detail: true}))
	case "mysql":
		calls = callsite.FromSQL(ddl.Read("a.sql", []byte(statements), &ddl.MySQL, ddl.Options{Detail: true}))
	}
	var out []string
	for _, f := range check.Run(callsite.Resolve(calls, index), nil, check.Options{Index: index}) {
		out = append(out, f.Rule.Name+": "+f.Message())
	}
	return out
}

// TestSnippets holds the whole messages of findings, one situation each.
func TestSnippets(t *testing.T) {
	const assign = `CallableStatement s = c.prepareCall("{? = call berth.assign(?, ?)}"); s.registerOutParameter(1, Types.INTEGER); s.setInt(2, 1); s.setInt(3, 2); s.execute(); int rc = s.getInt(1); `
	for _, test := range []struct {
		name, language, src string
		want                []string
	}{
		{"a near name is offered with its place", "java", `c.prepareCall("{call fare.releas(?)}").execute();`,
			[]string{"unknown-routine: No catalog of this application has a routine fare.releas. Did you mean fare.release (testdata/desk.sql:20)?"}},
		{"no near name", "java", `c.prepareCall("{call completely.different_thing}").execute();`,
			[]string{"unknown-routine: No catalog of this application has a routine completely.different_thing. Correct the name, or add the file that declares it to the catalog."}},
		{"a schema that is wrong is no match", "java", `c.prepareCall("{call pass.assign}").execute();`,
			[]string{"unknown-routine: No catalog of this application has a routine pass.assign. Did you mean berth.assign (testdata/desk.sql:1)?"}},
		{"system routines are known", "sqlserver", "EXEC sp_executesql N'SELECT 1'; EXEC sys.sp_who; EXEC xp_cmdshell 'dir'", nil},
		{"missing, by text", "java", `CallableStatement s = c.prepareCall("{call deck.move(?)}"); s.setInt(1, 1); s.execute();`,
			[]string{"missing-argument: deck.move gets no argument for @to_deck, which has no default. Add a placeholder for @to_deck tinyint at position 2."}},
		{"missing, by name", "csharp", `using var s = new SqlCommand("deck.move", c) { CommandType = CommandType.StoredProcedure }; s.Parameters.AddWithValue("@from_deck", 1); s.ExecuteNonQuery();`,
			[]string{"missing-argument: deck.move gets no argument for @to_deck, which has no default. Pass @to_deck tinyint, parameter 2."}},
		{"what may be added elsewhere is not missing", "csharp", `using var s = new SqlCommand("deck.move", c) { CommandType = CommandType.StoredProcedure }; Fill(s); s.ExecuteNonQuery();`, nil},
		{"parameters from the server", "csharp", `using var s = new SqlCommand("deck.move", c) { CommandType = CommandType.StoredProcedure }; SqlCommandBuilder.DeriveParameters(s); s.Parameters[1].Value = 1; s.ExecuteNonQuery();`, nil},
		{"extra, counted", "sqlserver", "EXEC deck.move 1, 2, 3, 4", []string{"extra-argument: deck.move has 2 parameters; the call gives 4. Take away what stands behind the first 2."}},
		{"a name without its sigil is fine where the API adds it", "csharp", `using var s = new SqlCommand("deck.move", c) { CommandType = CommandType.StoredProcedure }; s.Parameters.AddWithValue("from_deck", 1); s.Parameters.AddWithValue("TO_DECK", 1); s.ExecuteNonQuery();`, nil},
		{"a name nobody can guess", "sqlserver", "EXEC fare.release @something_else = 1", []string{
			"missing-argument: fare.release gets no argument for @id, which has no default. Pass @id int, parameter 1.",
			"unknown-parameter: fare.release has no parameter @something_else, which the call passes. Its parameters are @id."}},
		{"the status place, not registered", "java", `CallableStatement s = c.prepareCall("{? = call fare.release(?)}"); s.setInt(2, 1); s.execute();`,
			[]string{"unset-placeholder: Placeholder 1, which takes the status code, is not registered. Register it: cs.registerOutParameter(1, Types.INTEGER)."}},
		{"indexes from 0", "java", `CallableStatement s = c.prepareCall("{call fare.release(?)}"); s.setInt(0, 1); s.execute();`,
			[]string{"index-out-of-range: Index 0 is bound, but placeholders are counted from 1. Move every index up by one."}},
		{"an output that is read past the end", "java", `CallableStatement s = c.prepareCall("{call fare.quote(?, NULL, ?)}"); s.setInt(1, 1); s.registerOutParameter(2, Types.DECIMAL); s.execute(); show(s.getBigDecimal(2)); show(s.getInt(3));`,
			[]string{"index-out-of-range: Index 3 is read, but the text has 2 placeholders. Use the indexes 1 to 2."}},
		{"odbc goes by position", "csharp", `using var s = new OdbcCommand("{call deck.move(?, ?)}", o); s.Parameters.AddWithValue("whatever", 1); s.ExecuteNonQuery();`,
			[]string{"unset-placeholder: A placeholder, for @to_deck tinyint, is neither given a value nor registered as an output. Set it before the call runs."}},
		{"swapped getters", "sqlserver", "DECLARE @from_deck tinyint, @to_deck tinyint; EXEC deck.move @from_deck = @to_deck, @to_deck = @from_deck", []string{"swapped-arguments: @to_deck is passed for @from_deck, and @from_deck for @to_deck. Swap the two."}},
		{"a branch may bind null or a value", "java", `CallableStatement s = c.prepareCall("{call fare.release(?)}"); if (id == 0) s.setNull(1, Types.INTEGER); else s.setInt(1, id); s.execute();`, nil},

		{"out by name", "java", `CallableStatement s = c.prepareCall("{call fare.quote(?, ?, ?)}"); s.setInt("sailing_id", 1); s.setNull("born", Types.DATE); s.setBigDecimal("total", fare); s.execute();`,
			[]string{`out-not-received: @total is an output of fare.quote, but the call passes it as an input: its value never arrives. Write registerOutParameter("total", Types.DECIMAL).`}},
		{"the word in the text, the direction missing", "csharp", `using var s = new SqlCommand("EXEC fare.quote @a, NULL, @t OUTPUT", c); s.Parameters.AddWithValue("@a", 1); s.Parameters.Add("@t", SqlDbType.Decimal); s.ExecuteNonQuery();`,
			[]string{"out-not-received: @total is an output of fare.quote, but the call passes it as an input: its value never arrives. Set its Direction to ParameterDirection.Output."}},
		{"the direction set, the word missing", "csharp", `using var s = new SqlCommand("EXEC fare.quote @a, NULL, @t", c); s.Parameters.AddWithValue("@a", 1); s.Parameters.Add("@t", SqlDbType.Decimal).Direction = ParameterDirection.Output; s.ExecuteNonQuery();`,
			[]string{"out-not-received: @total is an output of fare.quote, but the call passes it as an input: its value never arrives. Write OUTPUT behind @total in the text of the command too."}},
		{"read, but never asked for", "csharp", `using var s = new SqlCommand("berth.assign", c) { CommandType = CommandType.StoredProcedure }; s.Parameters.AddWithValue("@vessel_id", 1); s.Parameters.AddWithValue("@sailing_id", 1); var rc = s.Parameters.Add("@rc", SqlDbType.Int); rc.Direction = ParameterDirection.ReturnValue; s.ExecuteNonQuery(); if ((int)rc.Value != 0) Use(s.Parameters["@note"].Value);`,
			[]string{"out-not-received: @note is read here, but the call never asks for it. Add @note with Direction = ParameterDirection.Output."}},
		{"NULL for an output in a script", "sqlserver", "DECLARE @rc int; EXEC @rc = berth.assign 1, 2, NULL; SELECT @rc", []string{"literal-for-out: @note is an output, but the call passes NULL, which cannot receive it. Pass a variable with the OUTPUT word."}},
		{"the default of an output may be asked for", "sqlserver", "DECLARE @rc int; EXEC @rc = berth.assign 1, 2, DEFAULT; SELECT @rc", nil},
		{"an in-out variable of a script", "mysql", "SET @m = 5; CALL shift_sailing(1, @m); SELECT @m;", nil},
		{"a constant for an in-out parameter", "mysql", "CALL shift_sailing(1, 5);", []string{"literal-for-out: p_minutes is an output, but the call passes 5, which cannot receive it. Pass a variable."}},
		{"an output nobody selects", "mysql", "CALL cancel_sailing(1, @passes);", []string{"out-never-read: The output p_passes is asked for and never read. Read it after the call, or say in a comment why not."}},
		{"in and out, both given", "csharp", `using var s = new MySqlCommand("shift_sailing", m) { CommandType = CommandType.StoredProcedure }; s.Parameters.AddWithValue("p_id", 1); var p = s.Parameters.AddWithValue("p_minutes", 15); p.Direction = ParameterDirection.InputOutput; s.ExecuteNonQuery(); Use(p.Value);`, nil},
		{"in and out, only asked for", "csharp", `using var s = new MySqlCommand("shift_sailing", m) { CommandType = CommandType.StoredProcedure }; s.Parameters.AddWithValue("p_id", 1); var p = s.Parameters.Add("p_minutes", MySqlDbType.Int32); p.Direction = ParameterDirection.Output; s.ExecuteNonQuery(); Use(p.Value);`,
			[]string{"inout-half-bound: p_minutes is in and out; the call asks for its value but gives none. Give it a value, with Direction = ParameterDirection.InputOutput."}},
		{"an output in the hands of another method", "java", `CallableStatement s = c.prepareCall("{call fare.quote(?, NULL, ?)}"); s.setInt(1, 1); s.registerOutParameter(2, Types.DECIMAL); s.execute(); later(s);`, nil},
		{"the status before the call", "java", `CallableStatement s = c.prepareCall("{? = call fare.release(?)}"); s.registerOutParameter(1, Types.INTEGER); s.setInt(2, 1); int rc = s.getInt(1); s.execute(); if (rc != 0) fail();`,
			[]string{"out-read-too-early: The status code is read before the call runs. Read it behind the execute."}},

		{"a guard leaves", "java", assign + `if (rc == 40) return; done();`, nil},
		{"an else takes the rest", "java", assign + `if (rc == 40) a(); else b();`, nil},
		{"else if without an else", "java", assign + `if (rc == 40) a(); else if (rc == 0) b();`,
			[]string{"status-not-handled: berth.assign also hands back 41, which falls to no branch here. Add a branch for every other code."}},
		{"every code has a branch", "java", assign + `if (rc == 40) a(); else if (rc == 41) b();`, nil},
		{"handed on", "java", assign + `if (rc == 40) a(); report(rc);`, nil},
		{"only logged", "java", assign + `System.out.println("rc " + rc); if (rc == 40) a();`,
			[]string{"status-not-handled: berth.assign also hands back 41, which falls to no branch here. Add a branch for every other code."}},
		{"compared through a constant", "java", `final int TAKEN = 44; ` + assign + `if (rc == TAKEN) a(); else b();`,
			[]string{"status-never-returned: berth.assign never hands back 44. It hands back 0, 40 and 41."}},
		{"0 is always possible", "java", `CallableStatement s = c.prepareCall("{? = call fare.release(?)}"); s.registerOutParameter(1, Types.INTEGER); s.setInt(2, 1); s.execute(); if (s.getInt(1) == 0) a(); if (s.getInt(1) == 3) b();`,
			[]string{"status-never-returned: fare.release never hands back 3. It has no RETURN with a value, so its status is always 0."}},
		{"exec text wants its own mend", "java", `CallableStatement s = c.prepareCall("exec berth.assign ?, ?"); s.setInt(1, 1); s.setInt(2, 1); s.execute();`,
			[]string{"status-ignored: berth.assign hands back 0, 40 and 41, and this call never looks. Write exec ? = berth.assign …, register index 1 as Types.INTEGER and move the others up by one."}},
		{"a routine without codes", "java", `CallableStatement s = c.prepareCall("{call fare.release(?)}"); s.setInt(1, 1); s.execute();`, nil},
		{"the rows of INSERT … EXEC are taken", "sqlserver", "INSERT INTO #t EXEC berth.list", nil},
		{"the result of a function", "java", `CallableStatement s = c.prepareCall("{? = call fare.dues(?)}"); s.registerOutParameter(1, Types.DATE); s.setInt(2, 1); s.execute(); show(s.getDate(1));`,
			[]string{"status-type-mismatch: fare.dues returns decimal(8,2), but the call takes it as date. Take it as decimal."}},
		{"a table function", "sqlserver", "DECLARE @x int; EXEC @x = fare.slots 1", []string{
			"status-not-available: fare.slots gives no single value to capture. Select from it instead.",
			"kind-mismatch: fare.slots is a function that returns rows; it cannot be called like a procedure. Write SELECT … FROM fare.slots(…)."}},
		{"executeUpdate and no rows wanted", "java", `CallableStatement s = c.prepareCall("{call fare.release(?)}"); s.setInt(1, 1); s.executeUpdate();`, nil},
		{"a row read by position", "java", `ResultSet r = c.prepareCall("{call berth.list}").executeQuery(); while (r.next()) show(r.getInt(1));`, nil},
		{"a row handed on", "java", `ResultSet r = c.prepareCall("{call berth.list}").executeQuery(); map(r);`, nil},

		{"text for anything but bytes", "csharp", `using var s = new SqlCommand("fare.quote", c) { CommandType = CommandType.StoredProcedure }; s.Parameters.AddWithValue("@sailing_id", text); s.Parameters.AddWithValue("@born", text); var t = s.Parameters.Add("@total", SqlDbType.Decimal); t.Direction = ParameterDirection.Output; s.ExecuteNonQuery(); Use(t.Value);`, nil},
		{"an output in a type that cannot hold it", "java", `CallableStatement s = c.prepareCall("{call fare.quote(?, NULL, ?)}"); s.setInt(1, 1); s.registerOutParameter(2, Types.TIMESTAMP); s.execute(); show(s.getTimestamp(2));`,
			[]string{"type-mismatch: @total is decimal(8,2), but the call takes it as a date and time. Use Types.DECIMAL."}},
		{"an unknown type is not judged", "java", `CallableStatement s = c.prepareCall("{call fare.release(?)}"); s.setObject(1, something()); s.execute();`, nil},
		{"a size from the value", "csharp", `using var s = new SqlCommand("pass.code", c) { CommandType = CommandType.StoredProcedure }; s.Parameters.AddWithValue("@code", "").Direction = ParameterDirection.Output; s.Parameters.Add("@photo", SqlDbType.VarBinary, -1).Direction = ParameterDirection.Output; s.ExecuteNonQuery(); Use(s.Parameters["@code"].Value, s.Parameters["@photo"].Value);`,
			[]string{"size-missing: The output @code (varchar(14)) takes its size from the value that is put in, and is cut to it. Set Size = 14."}},
		{"a size set later", "csharp", `using var s = new SqlCommand("pass.code", c) { CommandType = CommandType.StoredProcedure }; var p = new SqlParameter("@code", SqlDbType.VarChar); p.Direction = ParameterDirection.Output; p.Size = 14; s.Parameters.Add(p); s.Parameters.Add("@photo", SqlDbType.VarBinary, -1).Direction = ParameterDirection.Output; s.ExecuteNonQuery(); Use(p.Value, s.Parameters["@photo"].Value);`, nil},
		{"DBNull is a null and no default", "csharp", `using var s = new SqlCommand("fare.release", c) { CommandType = CommandType.StoredProcedure }; s.Parameters.AddWithValue("@id", DBNull.Value); s.ExecuteNonQuery();`, nil},
		{"a joined schema is no value", "java", `String schema = "fare."; CallableStatement s = c.prepareCall("{call " + schema + "release(?)}"); s.setInt(1, 1); s.execute();`, nil},
		{"one finding however many values", "java", `c.createStatement().execute("EXEC deck.move " + id + ", " + id);`, []string{"value-in-call-text: A value is joined into the text of the call. Write a placeholder and bind the value."}},
	} {
		t.Run(test.name, func(t *testing.T) {
			got := findings(t, test.language, test.src)
			assert.Equal(t, test.want, got, strings.Join(got, "\n"))
		})
	}
}

// TestOutputThroughOtherRoutines passes an output on to another routine.
func TestOutputThroughOtherRoutines(t *testing.T) {
	src := []byte("CREATE PROC outer_one @o nvarchar(200) OUTPUT AS EXEC inner_one @o OUTPUT\nGO\nCREATE PROC inner_one @i nvarchar(300) OUTPUT AS SET @i = N'x'\nGO\n")
	f := ddl.Read("a.sql", src, &ddl.SQLServer, ddl.Options{Detail: true})
	index := signature.NewIndex(ddl.Assemble([]*ddl.File{f}))
	got := check.Run(callsite.Resolve(callsite.FromSQL(f), index), nil, check.Options{Index: index})
	require.Len(t, got, 1)
	assert.Equal(t, "size-mismatch", got[0].Rule.Name)
	assert.Equal(t, "The variable @o is nvarchar(200), which is smaller than 300 of @i: longer values are cut.", got[0].Reason)
}
