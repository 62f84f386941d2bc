package callsite_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"ramekin/internal/callsite"
	"ramekin/internal/ddl"
	"ramekin/internal/signature"
)

const resolveDDL = `CREATE PROC berth.assign @id int, @note nvarchar(9) = N'' OUTPUT, @flag bit = 0 AS RETURN 0
GO
CREATE FUNCTION berth.length_of (@id int) RETURNS int AS BEGIN RETURN 1 END
GO
CREATE PROC a.twin @x int AS RETURN 0
GO
CREATE PROC b.twin @x int, @y int AS RETURN 0
GO
`

// resolved ties the calls of a script to the routines above and tells of each
// its state and which parameter every argument is for.
func resolved(t *testing.T, script string) string {
	t.Helper()
	index := signature.NewIndex(ddl.Assemble([]*ddl.File{ddl.Read("db.sql", []byte(resolveDDL), &ddl.SQLServer, ddl.Options{})}))
	f := ddl.Read("a.sql", []byte(script), &ddl.SQLServer, ddl.Options{Detail: true})
	var out []string
	for _, c := range callsite.Resolve(callsite.FromSQL(f), index) {
		s := string(c.State)
		if c.Routine != nil {
			s += " " + c.Routine.Key
		}
		for _, a := range c.Arguments {
			switch {
			case a.Direction == callsite.Return:
				s += " ="
			case a.Parameter == nil:
				s += " ?"
			case a.Twice:
				s += " " + a.Parameter.Name + "!"
			default:
				s += " " + a.Parameter.Name
			}
		}
		out = append(out, s)
	}
	return strings.Join(out, " | ")
}

func TestArgumentsFindTheirParameters(t *testing.T) {
	for script, want := range map[string]string{
		"EXEC berth.assign 1, @n OUTPUT, 1":       "resolved berth.assign @id @note @flag",
		"EXEC berth.assign @flag = 1, @id = 2":    "resolved berth.assign @flag @id",
		"EXEC berth.assign 1, @flag = 1":          "resolved berth.assign @id @flag",
		"EXEC berth.assign @ID = 1":               "resolved berth.assign @id",
		"EXEC berth.assign 1, @id = 2":            "resolved berth.assign @id @id!",
		"EXEC berth.assign @id = 1, @n OUTPUT":    "resolved berth.assign @id @note",
		"EXEC berth.assign 1, 2, 3, 4":            "resolved berth.assign @id @note @flag ?",
		"EXEC berth.assign @nothing = 1":          "resolved berth.assign ?",
		"EXEC @rc = berth.assign 1":               "resolved berth.assign = @id",
		"EXEC Desk.berth.assign 1":                "resolved berth.assign @id",
		"EXEC Server1.Desk.berth.assign 1":        "resolved berth.assign @id",
		"EXEC Desk..assign 1":                     "resolved berth.assign @id",
		"EXEC [BERTH].[Assign] 1":                 "resolved berth.assign @id",
		"EXEC twin 1":                             "resolved a.twin @x",
		"EXEC twin 1, 2":                          "resolved b.twin @x @y",
		"EXEC twin 1, 2, 3":                       "ambiguous ? ? ?",
		"EXEC a.twin 1, 2":                        "resolved a.twin @x ?",
		"EXEC nowhere.assign 1":                   "unknown ?",
		"EXEC assign_berth 1":                     "unknown ?",
		"EXEC @which 1":                           "unresolved ?",
		"EXEC sp_help 'x'":                        "unknown ?",
		"SET @x = berth.length_of(1)":             "resolved berth.length_of @id",
		"SET @x = berth.assign(1)":                "resolved berth.assign @id",
		"INSERT INTO berth.assign (a) VALUES (1)": "",
		"EXEC berth.length_of 1":                  "resolved berth.length_of @id",
	} {
		assert.Equal(t, want, resolved(t, script), script)
	}
}

func TestProvidersChooseAmongDatabases(t *testing.T) {
	desk := ddl.Assemble([]*ddl.File{ddl.Read("a.sql", []byte("CREATE PROC same @a int AS RETURN 0"), &ddl.SQLServer, ddl.Options{})})
	timetable := ddl.Assemble([]*ddl.File{ddl.Read("b.sql", []byte("CREATE PROCEDURE same(a INT) SET @x = 1;"), &ddl.MySQL, ddl.Options{})})
	index := signature.NewIndex(desk, timetable)
	for members, want := range map[string]string{
		`void M() { new SqlCommand("same", c) { CommandType = CommandType.StoredProcedure }.ExecuteNonQuery(); }`:                                         "sqlserver",
		`void M() { new MySqlCommand("same", c) { CommandType = CommandType.StoredProcedure }.ExecuteNonQuery(); }`:                                       "mysql",
		`void M(DbConnection d) { var k = d.CreateCommand(); k.CommandText = "same"; k.CommandType = CommandType.StoredProcedure; k.ExecuteNonQuery(); }`: "",
	} {
		calls := callsite.Resolve(csharpCalls(members), index)
		require.Len(t, calls, 1, members)
		if want == "" {
			assert.Equal(t, callsite.Ambiguous, calls[0].State)
			assert.Contains(t, calls[0].Reason, "same (sqlserver), same (mysql)")
			continue
		}
		assert.EqualValues(t, want, calls[0].Routine.Dialect)
	}
}

func TestACommandWithoutItsType(t *testing.T) {
	index := signature.NewIndex(ddl.Assemble([]*ddl.File{ddl.Read("a.sql", []byte("CREATE PROC known @a int AS RETURN 0"), &ddl.SQLServer, ddl.Options{})}))
	members := `void M() { var k = new SqlCommand("NAME", c); k.Parameters.AddWithValue("@a", 1); k.ExecuteNonQuery(); }`
	calls := callsite.Resolve(csharpCalls(strings.Replace(members, "NAME", "known", 1)), index)
	require.Len(t, calls, 1)
	assert.True(t, calls[0].Bare)
	assert.Empty(t, calls[0].Arguments, "they are parameters of the text, not of the routine")
	assert.Empty(t, callsite.Resolve(csharpCalls(strings.Replace(members, "NAME", "vessels", 1)), index), "a table, most likely")
}

// TestResolveMembers: members of packages, wrapped routines, and functions whose
// outputs some libraries take for the result.
func TestResolveMembers(t *testing.T) {
	member := func(schema, container, name string) signature.Routine {
		return signature.Routine{Dialect: signature.Oracle, Kind: signature.Procedure, Schema: schema, Container: container, Name: name}
	}
	hidden := member("", "", "sealed")
	hidden.ParametersHidden = true
	outputs := signature.Routine{Dialect: signature.PostgreSQL, Kind: signature.Function, Name: "counted",
		Parameters: []signature.Parameter{{Name: "n", Position: 1, Direction: signature.Out}}}
	ix := signature.NewIndex(&signature.Catalog{Routines: []signature.Routine{
		member("harbour", "dues", "charge"), member("", "crew", "charge"), member("", "", "charge"), hidden, outputs}})
	for name, want := range map[string]string{
		"harbour.dues.charge": "harbour.dues.charge", "dues.charge": "harbour.dues.charge", "crew.charge": "crew.charge", "x.crew.charge": "crew.charge",
		"other.dues.charge": "charge", "nowhere.charge": "charge", "sealed": "", "counted": "counted",
	} {
		c := &callsite.Call{State: callsite.Named, Name: strings.Split(name, "."), Verb: "call", Host: "java"}
		callsite.Resolve([]*callsite.Call{c}, ix)
		got := ""
		if c.Routine != nil {
			got = c.Routine.QualifiedName()
		}
		assert.Equal(t, want, got, name)
		if name == "sealed" {
			assert.Equal(t, callsite.Unresolved, c.State)
			assert.Contains(t, c.Reason, "wrapped")
		}
		if name == "counted" {
			assert.True(t, c.Open)
		}
	}
}
