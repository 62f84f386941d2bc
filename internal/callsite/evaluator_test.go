package callsite_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"ramekin/internal/callsite"
	"ramekin/internal/hostcode"
	"ramekin/internal/signature"
)

// javaCalls finds the calls of a class with the members given.
func javaCalls(members string) []*callsite.Call {
	src := "import java.sql.*;\nclass A {\n Connection c;\n" + members + "\n}"
	return callsite.Analyze([]callsite.File{{Path: "A.java", Text: []byte(src)}}, callsite.Source{})
}

func csharpCalls(members string) []*callsite.Call {
	src := "using System.Data; using Microsoft.Data.SqlClient;\nclass A {\n SqlConnection c;\n" + members + "\n}"
	return callsite.Analyze([]callsite.File{{Path: "A.cs", Text: []byte(src)}}, callsite.Source{})
}

func described(calls []*callsite.Call) string {
	var out []string
	for _, c := range calls {
		out = append(out, describe(c))
	}
	return strings.Join(out, " | ")
}

func TestJavaTexts(t *testing.T) {
	for name, test := range map[string]struct{ members, want string }{
		"a constant":                {`static final String P = "{call a.b}"; void m() { c.prepareCall(P).execute(); }`, "a.b()"},
		"constants joined":          {`static final String S = "a", P = "{call " + S + ".b(" + '?' + ")}"; void m() { c.prepareCall(P).execute(); }`, "a.b(unset)"},
		"a local in a block":        {`void m() { String s; { s = "{call a.b}"; } c.prepareCall(s).execute(); }`, "a.b()"},
		"a text that grows":         {`void m() { String s = "{call a"; s += ".b"; s = s + "}"; c.prepareCall(s).execute(); }`, "a.b()"},
		"a builder":                 {`void m() { StringBuilder b = new StringBuilder("{call ").append("a").append('.').append("b}"); c.prepareCall(b.toString()).execute(); }`, "a.b()"},
		"a builder of texts":        {`void m() { StringBuilder b = new StringBuilder("{call "); b.append("a.b").append("}"); c.prepareCall(b.toString()).execute(); }`, "a.b()"},
		"a builder in a loop":       {`void m(int n) { StringBuilder b = new StringBuilder("{call a.b("); for (int i = 0; i < n; i++) b.append("?,"); b.append(")}"); c.prepareCall(b.toString()).execute(); }`, "a.b(unset, in unknown <…>) open"},
		"a format":                  {`void m(int id) { c.prepareCall(String.format("{call %s.b(%d)}", "a", id)).execute(); }`, "a.b(in unknown <id>)"},
		"formatted":                 {`void m() { c.prepareCall("{call a.%s}".formatted("b")).execute(); }`, "a.b()"},
		"concat":                    {`void m() { c.prepareCall("{call a".concat(".b}")).execute(); }`, "a.b()"},
		"trimmed":                   {`void m() { c.prepareCall(" {call a.b} ".trim()).execute(); }`, "a.b()"},
		"a choice":                  {`void m(boolean x) { c.prepareCall(x ? "{call a.b}" : "{call a.c}").execute(); }`, "a.b() | a.c()"},
		"a switch":                  {`void m(int x) { String s = switch (x) { case 1 -> "{call a.b}"; default -> "{call a.c}"; }; c.prepareCall(s).execute(); }`, "a.b() | a.c()"},
		"a method that gives it":    {`String text() { return "{call a.b}"; } void m() { c.prepareCall(text()).execute(); }`, "a.b()"},
		"a parameter":               {`void m(String s) { c.prepareCall(s).execute(); }`, "?"},
		"a name joined in":          {`void m(String s) { c.prepareCall("{call " + s + "}").execute(); }`, "?"},
		"a field without a value":   {`String s; void m() { c.prepareCall(s).execute(); }`, "?"},
		"an own prepareCall":        {`CallableStatement prepareCall(String s) { return null; } void m() { prepareCall("{call a.b}"); }`, ""},
		"of another class":          {`void m(Phone p) { p.prepareCall("{call a.b}"); }`, ""},
		"a logged text":             {`void m() { log.info("{call a.b}"); String s = "{call a.c}"; }`, ""},
		"a select":                  {`void m() { c.prepareStatement("SELECT a FROM b WHERE c = ?").execute(); }`, ""},
		"in a lambda":               {`void m() { run(() -> c.prepareCall("{call a.b}").execute()); }`, "a.b()"},
		"in an anonymous class":     {`void m() { new T() { public void run() { c.prepareCall("{call a.b}").execute(); } }; }`, "a.b()"},
		"in a static block":         {`static { x.getConnection().prepareCall("{call a.b}").execute(); }`, "a.b()"},
		"in a nested class":         {`static class B { void m(Connection k) { k.prepareCall("{call a.b}").execute(); } }`, "a.b()"},
		"in a field":                {`CallableStatement s = DriverManager.getConnection("x").prepareCall("{call a.b}");`, "a.b()"},
		"behind something not read": {`void m() { @#$ %^ ; c.prepareCall("{call a.b}").execute(); }`, "a.b()"},
		"two statements in a text":  {`void m() { c.prepareStatement("SET NOCOUNT ON; EXEC a.b ?; EXEC a.c").execute(); }`, "a.b(unset) | a.c()"},
	} {
		assert.Equal(t, test.want, described(javaCalls(test.members)), name)
	}
}

func TestJavaBinds(t *testing.T) {
	call := func(statements string) string {
		return described(javaCalls(`void m(int id, long big, String s, Object o) throws SQLException { CallableStatement p = c.prepareCall("{call a.b(?, ?)}"); ` + statements + ` }`))
	}
	for statements, want := range map[string]string{
		`p.setInt(1, id); p.setLong(2, big);`:                                      "a.b(in int32 id, in int64 big)",
		`p.setObject(1, s); p.setObject(2, o, Types.DATE);`:                        "a.b(in string s, in date o)",
		`p.setObject(1, (Integer) o); p.setObject(2, java.math.BigDecimal.TEN);`:   "a.b(in int32 (Integer) o, in unknown java.math.BigDecimal.TEN)",
		`p.setNull(1, Types.INTEGER); p.setNull(2, 93);`:                           "a.b(in int32 null, in timestamp null)",
		`p.registerOutParameter(1, 12); p.registerOutParameter(2, Types.CHAR, 3);`: "a.b(out string, out string)",
		`p.setInt(2, id); p.registerOutParameter(2, Types.BIGINT);`:                "a.b(unset, inout int64 id)",
		`int k = 0; p.setInt(++k, id); p.setInt(k + 1, id);`:                       "a.b(in int32 id, in int32 id)",
		`p.setInt(1, id); p.clearParameters(); p.setQueryTimeout(3); p.close();`:   "a.b(in int32 id, unset)",
		`if (id > 0) p.setInt(1, id); else p.setNull(1, Types.INTEGER);`:           "a.b(in int32 id, unset)",
		`for (int i = 1; i < 3; i++) p.setInt(i, id);`:                             "a.b(unset, unset) open",
		`CallableStatement q = p; q.setInt(1, id); p.setInt(2, id);`:               "a.b(in int32 id, in int32 id)",
		`p.setString("name", s); p.registerOutParameter("other", Types.DATE);`:     "a.b(in string name s, out date other)",
		`fill(p, s);`: "a.b(unset, unset) open",
		`p.setTimestamp(1, t); p.setBytes(2, x);`:   "a.b(in timestamp t, in bytes x)",
		`ResultSet r = p.executeQuery(); r.next();`: "a.b(unset, unset) read",
		`p.addBatch(); p.executeBatch();`:           "a.b(unset, unset)",
		`list.forEach(v -> p.setInt(1, v));`:        "a.b(in unknown v, unset)",
	} {
		if statements == `list.forEach(v -> p.setInt(1, v));` {
			want = "a.b(in int32 v, unset)"
		}
		assert.Equal(t, want, call(statements), statements)
	}
}

func TestCSharpCommands(t *testing.T) {
	for name, test := range map[string]struct{ members, want string }{
		"properties":                       {`void M() { var k = new SqlCommand(); k.Connection = c; k.CommandText = "a.b"; k.CommandType = CommandType.StoredProcedure; k.ExecuteNonQuery(); }`, "a.b()"},
		"brackets":                         {`void M() { new SqlCommand("[a].[b c]", c) { CommandType = CommandType.StoredProcedure }.ExecuteNonQuery(); }`, "a.b c()"},
		"a numbered one":                   {`void M() { new SqlCommand("a.b;2", c) { CommandType = CommandType.StoredProcedure }.ExecuteNonQuery(); }`, "a.b;2()"},
		"a table":                          {`void M() { new OleDbCommand("vessels", o) { CommandType = CommandType.TableDirect }.ExecuteReader(); }`, ""},
		"a query":                          {`void M() { new SqlCommand("SELECT 1", c).ExecuteScalar(); }`, ""},
		"a verbatim text":                  {"void M() { new SqlCommand(@\"\n  EXEC a.b\n    @x = 1\", c).ExecuteNonQuery(); }", "a.b(in int32 @x 1)"},
		"interpolated":                     {`const string S = "a"; void M() { new SqlCommand($"EXEC {S}.b", c).ExecuteNonQuery(); }`, "a.b()"},
		"a value inside":                   {`void M(int id) { new SqlCommand($"EXEC a.b {id:N0}", c).ExecuteNonQuery(); }`, "a.b(in unknown <id>)"},
		"format":                           {`void M(int id) { new SqlCommand(string.Format("EXEC a.b {0}", id), c).ExecuteNonQuery(); }`, "a.b(in unknown <id>)"},
		"through a factory":                {`void M(DbProviderFactory f) { var k = f.CreateCommand(); k.CommandText = "a.b"; k.CommandType = CommandType.StoredProcedure; k.ExecuteNonQuery(); }`, "a.b()"},
		"an alias of a type":               {`void M(IDbConnection d) { using IDbCommand k = d.CreateCommand(); k.CommandText = "a.b"; k.CommandType = CommandType.StoredProcedure; k.ExecuteNonQuery(); }`, "a.b()"},
		"target-typed":                     {`SqlCommand k = new("a.b"); void M() { k.CommandType = CommandType.StoredProcedure; k.ExecuteNonQuery(); }`, "a.b()"},
		"a type that is not known":         {`void M(string n, CommandType t) { new SqlCommand(n, c) { CommandType = t }.ExecuteNonQuery(); }`, ""},
		"a type that is not known, a name": {`void M(CommandType t) { new SqlCommand("a.b", c) { CommandType = t }.ExecuteNonQuery(); }`, "a.b()"},
		"a class of its own":               {`class SqlCommand { } void M() { new SqlCommand("a.b") { CommandType = CommandType.StoredProcedure }; }`, ""},
		"an async chain":                   {`async Task M() { await using var k = new SqlCommand("a.b", c) { CommandType = CommandType.StoredProcedure }; var r = await k.ExecuteReaderAsync(CommandBehavior.SingleRow).ConfigureAwait(false); if (await r.ReadAsync()) F(r.GetInt32(0)); }`, "a.b() read"},
		"a local function":                 {`void M() { void L() { new SqlCommand("a.b", c) { CommandType = CommandType.StoredProcedure }.ExecuteNonQuery(); } L(); }`, "a.b()"},
		"an arrow member":                  {`SqlCommand K() => new SqlCommand("a.b", c) { CommandType = CommandType.StoredProcedure };`, "a.b() open"},
		"a property":                       {`string P => "a.b"; void M() { new SqlCommand(P, c) { CommandType = CommandType.StoredProcedure }.ExecuteNonQuery(); }`, "a.b()"},
		"null or something":                {`void M(string n) { new SqlCommand(n ?? "a.b", c) { CommandType = CommandType.StoredProcedure }.ExecuteNonQuery(); }`, "?"},
	} {
		assert.Equal(t, test.want, described(csharpCalls(test.members)), name)
	}
}

func TestCSharpParameters(t *testing.T) {
	call := func(statements string) string {
		return described(csharpCalls(`void M(int id, string s, DateTime? day, object o) { using var k = new SqlCommand("a.b", c) { CommandType = CommandType.StoredProcedure }; ` + statements + ` k.ExecuteNonQuery(); }`))
	}
	for statements, want := range map[string]string{
		`k.Parameters.AddWithValue("@a", id);`:                                                                                                    "a.b(in int32 @a id)",
		`k.Parameters.Add("@a", SqlDbType.Int).Value = id;`:                                                                                       "a.b(in int32 @a id)",
		`k.Parameters.Add("@a", SqlDbType.NVarChar, 20).Value = (object)s ?? DBNull.Value;`:                                                       "a.b(in string @a (object)s ?? DBNull.Value)",
		`k.Parameters.Add(new SqlParameter("@a", SqlDbType.Money) { Value = 3m });`:                                                               "a.b(in decimal @a 3m)",
		`k.Parameters.Add(new SqlParameter("@a", SqlDbType.Int, 4, ParameterDirection.Output, false, 0, 0, null, DataRowVersion.Default, null));`: "a.b(out int32 @a)",
		`var p = k.Parameters.Add("@a", SqlDbType.Int); p.Direction = ParameterDirection.InputOutput; p.Value = id;`:                              "a.b(inout int32 @a id)",
		`k.Parameters.AddWithValue("@a", day); k.Parameters["@a"].Direction = System.Data.ParameterDirection.Output;`:                             "a.b(out timestamp @a)",
		`SqlParameter p = new(); p.ParameterName = "@a"; p.DbType = DbType.Guid; k.Parameters.Add(p);`:                                            "a.b(in uuid @a)",
		`k.Parameters.AddWithValue("@a", o);`:                                                                                                     "a.b(in unknown @a o)",
		`k.Parameters.AddWithValue("@a", null);`:                                                                                                  "a.b(in unknown @a null)",
		`k.Parameters.Add(Make(id));`:                                                                                                             "a.b() open",
		`foreach (var x in o) k.Parameters.AddWithValue(x.Name, x.Value);`:                                                                        "a.b() open",
		`k.Parameters.AddWithValue("@a", id); k.Parameters.Clear();`:                                                                              "a.b()",
		`k.Parameters[0].Value = 1;`:                                                                                                              "a.b()",
	} {
		assert.Equal(t, want, call(statements), statements)
	}
}

func TestStatusUse(t *testing.T) {
	use := func(statements string) *callsite.StatusUse {
		calls := javaCalls(`int m() throws SQLException { CallableStatement s = c.prepareCall("{? = call a.b}"); s.registerOutParameter(1, Types.INTEGER); s.execute(); ` + statements + ` }`)
		require.Len(t, calls, 1, statements)
		return calls[0].Status
	}
	u := use("int rc = s.getInt(1); if (rc == 1) f(); else if (2 == rc) g();")
	require.Len(t, u.Comparisons, 2)
	assert.Equal(t, int64(2), u.Comparisons[1].Value)
	assert.False(t, u.Comparisons[0].Handled)
	assert.False(t, u.Escapes)
	assert.True(t, use("return s.getInt(1);").Escapes)
	assert.True(t, use("save(s.getInt(1)); return 0;").Escapes)
	assert.False(t, use("log.info(\"\" + s.getInt(1)); return 0;").Escapes)
	assert.True(t, use("if (s.getInt(1) != 0) f(); return 0;").Comparisons[0].Handled)
	assert.True(t, use("return s.getInt(1) == 3 ? 1 : 2;").Comparisons[0].Handled)
	u = use("switch (s.getInt(1)) { case 1: f(); break; case 2: g(); } return 0;")
	require.NotNil(t, u.Switch)
	assert.Len(t, u.Comparisons, 2)
	assert.False(t, u.Comparisons[0].Handled)
	u = use("switch (s.getInt(1)) { case 1: f(); default: g(); } return 0;")
	assert.True(t, u.Comparisons[0].Handled)
	u = use("boolean ok = s.getInt(1) == 0; return ok ? 1 : 0;")
	assert.Equal(t, int64(0), u.Comparisons[0].Value)
}

func TestHelpersAreFollowedOnce(t *testing.T) {
	calls := javaCalls(`
 void a() { run("{call one}", 1); }
 void b() { run("{call two}", 2); run("{call two}", 3); }
 void run(String text, int id) { CallableStatement s = c.prepareCall(text); bind(s, id); s.execute(); }
 void bind(CallableStatement s, int id) { s.setInt(1, id); }
 void again() { again(); }`)
	assert.Equal(t, "one() | two() | two()", described(calls))
	calls = javaCalls(`CallableStatement open() { return c.prepareCall("{call p(?)}"); } void m() { CallableStatement s = open(); s.setInt(1, 7); s.execute(); }`)
	assert.Equal(t, "p(in int32 7)", described(calls))
	calls = javaCalls(`CallableStatement open() { return c.prepareCall("{call p(?)}"); }`)
	assert.Equal(t, "p(unset) open", described(calls))
}

func TestMayCall(t *testing.T) {
	assert.True(t, callsite.MayCall(&hostcode.Java, []byte("x.prepareCall(y)")))
	assert.True(t, callsite.MayCall(&hostcode.CSharp, []byte("CommandType.StoredProcedure")))
	assert.False(t, callsite.MayCall(&hostcode.Java, []byte("class A { void call() {} }")))
}

func TestWords(t *testing.T) {
	calls := javaCalls(`void m() { CallableStatement s = c.prepareCall("{? = call p}"); s.registerOutParameter(1, Types.INTEGER); s.execute(); show(s.getInt(1)); }`)
	require.Len(t, calls, 1)
	assert.Equal(t, "captured", calls[0].StatusWord())
	assert.Equal(t, "unknown", calls[0].ResultsWord())
	calls[0].Routine = &signature.Routine{Kind: signature.Procedure, Results: []signature.ResultSet{{}}}
	assert.Equal(t, "none", calls[0].StatusWord(), "its dialect has no status")
	assert.Equal(t, "ignored", calls[0].ResultsWord())
	calls[0].Routine.Results = nil
	assert.Equal(t, "none", calls[0].ResultsWord())
	calls[0].Routine.SendsMore = true
	assert.Equal(t, "unknown", calls[0].ResultsWord())
}

// TestFunctionsInQueries: a function in a query is a call, built in ones are none;
// a block's calls are found with the places that they take.
func TestFunctionsInQueries(t *testing.T) {
	for members, want := range map[string]string{
		`void m() { var s = c.prepareStatement("SELECT fares.quote(?, 2) FROM t WHERE a = ?"); s.setInt(1, 7); s.setInt(2, 8); s.executeQuery(); }`:               "fares.quote(in int32 7, in int32 2) read",
		`void m() { var s = c.prepareStatement("SELECT a FROM fares.rows_for(?) WHERE upper(b) = ?"); s.setLong(1, 7L); s.setString(2, "x"); s.execute(); }`:      "fares.rows_for(in int64 7L)",
		`void m() { var s = c.prepareCall("begin ? := fares.quote(?); end;"); s.registerOutParameter(1, Types.DECIMAL); s.setInt(2, 7); s.execute(); }`:           "fares.quote(return decimal, in int32 7) captured",
		`void m() { var s = c.prepareCall("begin fares.book(?, p_note => ?); end;"); s.setInt(1, 7); s.registerOutParameter(2, Types.VARCHAR); s.execute(); }`:    "fares.book(in int32 7, out string p_note)",
		`void m() { c.createStatement().executeQuery("SELECT fares.one(1), other.two(3)"); }`:                                                                     "fares.one(in int32 1) read | other.two(in int32 3) read",
		`void m() { c.prepareStatement("SELECT count(*), max(a) FROM b").executeQuery(); c.prepareStatement("INSERT INTO a.b (c, d) VALUES (?, ?)").execute(); }`: "",
	} {
		assert.Equal(t, want, described(javaCalls(members)), members)
	}
	assert.Equal(t, "dbo.quote(in int32 7) read", described(csharpCalls(`void M() { var s = new SqlCommand("SELECT dbo.quote(@a)", c); s.Parameters.AddWithValue("@a", 7); s.ExecuteScalar(); }`)))
}
