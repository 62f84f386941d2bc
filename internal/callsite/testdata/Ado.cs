using System.Data;
using Microsoft.Data.SqlClient;

namespace Ferry;

// A line that ends in "call …" tells which call is placed on it; lines without one have none.
public class Ado(SqlConnection conn, MySqlConnection other, IDbConnection any)
{
    private const string Schema = "berth.";
    private const string Assign = Schema + "assign"; // call berth.assign(in int32 @id id, out string @note, return int32 @rc) captured
    private readonly SqlCommand _kept = new("kept.in_field") { CommandType = CommandType.StoredProcedure }; // call kept.in_field(in string @a a)

    public int ByName(int id)
    {
        using var cmd = new SqlCommand(Names.Quoted + "x", conn);
        cmd.CommandText = Assign;
        cmd.CommandType = CommandType.StoredProcedure;
        cmd.Parameters.Add("@id", SqlDbType.Int).Value = id;
        var note = cmd.Parameters.Add("@note", SqlDbType.NVarChar, 200);
        note.Direction = ParameterDirection.Output;
        SqlParameter rc = new("@rc", SqlDbType.Int) { Direction = ParameterDirection.ReturnValue };
        cmd.Parameters.Add(rc);
        cmd.ExecuteNonQuery();
        return (int)rc.Value;
    }

    public async Task<object> Forms(decimal? fare, DateTime day, byte[] photo)
    {
        await using var cmd = new SqlCommand(@"[pass].[issue]", conn) { CommandType = CommandType.StoredProcedure }; // call pass.issue(in decimal @fare fare, in date @day day, in bytes @photo photo, inout string @code "SM", in unknown @none DBNull.Value) read
        cmd.Parameters.AddWithValue("@fare", fare);
        cmd.Parameters.Add(new SqlParameter { ParameterName = "@day", SqlDbType = SqlDbType.Date, Value = day });
        cmd.Parameters.AddRange(new[] { new SqlParameter("@photo", photo), new SqlParameter("@code", "SM") { Direction = ParameterDirection.InputOutput, Size = 14 } });
        cmd.Parameters.AddWithValue("@none", DBNull.Value);
        using var reader = await cmd.ExecuteReaderAsync().ConfigureAwait(false);
        while (await reader.ReadAsync()) Use(reader["seat"]);
        return null;
    }

    public void ByText(int id)
    {
        var cmd = new SqlCommand($"EXEC @rc = text.one @id, {id}, @note OUTPUT", conn); // call text.one(return int32 @rc, in int32 id, in unknown <id>, out string) captured
        cmd.Parameters.AddWithValue("@id", id);
        cmd.Parameters.Add("@note", SqlDbType.NVarChar, 50).Direction = ParameterDirection.Output;
        cmd.Parameters.Add("@rc", SqlDbType.Int).Direction = ParameterDirection.Output;
        cmd.ExecuteNonQuery();
        Use(cmd.Parameters["@rc"].Value);
        var raw = new SqlCommand("""
            SET NOCOUNT ON;
            EXEC text.raw @a = @a;
            """, conn);
        raw.Parameters.AddWithValue("@a", 1);
    }

    public void Odbc(OdbcConnection odbc, int id)
    {
        using var cmd = new OdbcCommand("{? = call odbc.call(?, ?)}", odbc); // call odbc.call(return int32 rc, in int32 id, unset) captured
        cmd.Parameters.Add("rc", OdbcType.Int).Direction = ParameterDirection.ReturnValue;
        cmd.Parameters.AddWithValue("a", id);
        cmd.ExecuteNonQuery();
    }

    public void Common(string route)
    {
        IDbCommand cmd = any.CreateCommand();
        cmd.CommandText = "common.base"; // call common.base(in string @route route)
        cmd.CommandType = CommandType.StoredProcedure;
        AddIn(cmd, "@route", route);
        cmd.ExecuteNonQuery();
    }

    private static void AddIn(IDbCommand cmd, string name, string value)
    {
        var p = cmd.CreateParameter();
        p.ParameterName = name;
        p.Value = value;
        cmd.Parameters.Add(p);
    }

    public void Field(string a)
    {
        _kept.Parameters.AddWithValue("@a", a);
        _kept.ExecuteNonQuery();
    }

    public void Open(string name, SqlCommand given)
    {
        using var cmd = new SqlCommand(name, conn) { CommandType = CommandType.StoredProcedure }; // call ?
        using var derived = new SqlCommand("derived.call", conn) { CommandType = CommandType.StoredProcedure }; // call derived.call() open
        SqlCommandBuilder.DeriveParameters(derived);
        foreach (var v in Values) cmd.Parameters.AddWithValue(v.Name, v.Value);
    }

    public int Tuple(string what, int id)
    {
        using var cmd = other.CreateCommand();
        (cmd.CommandText, cmd.CommandType) = ("tuple.call", CommandType.StoredProcedure); // call tuple.call(in int32 @id id, out int32 @n)
        cmd.Parameters.AddWithValue("@id", id);
        MySqlParameter n = new("@n", MySqlDbType.Int32) { Direction = ParameterDirection.Output };
        cmd.Parameters.Add(n);
        cmd.ExecuteNonQuery();
        using var given = other.CreateCommand();
        given.CommandText = what; // call ?
        given.Parameters.Add("@n", MySqlDbType.Int32).Direction = ParameterDirection.Output;
        given.ExecuteNonQuery();
        using var query = other.CreateCommand();
        query.CommandText = what;
        query.ExecuteNonQuery();
        return (int)n.Value;
    }

    public DataTable Fill(int id)
    {
        var adapter = new MySqlDataAdapter("fill_crew", other); // call fill_crew(in int32 p_id id) read
        adapter.SelectCommand.CommandType = CommandType.StoredProcedure;
        adapter.SelectCommand.Parameters.AddWithValue("p_id", id);
        var t = new DataTable();
        adapter.Fill(t);
        return t;
    }

    public void Decoys(Phone phone)
    {
        // new SqlCommand("decoy.commented", conn) { CommandType = CommandType.StoredProcedure };
        Log("EXEC decoy.logged");
        var query = new SqlCommand("SELECT name FROM vessels WHERE id = @id", conn);
        query.Parameters.AddWithValue("@id", 1);
        phone.CreateCommand("decoy.other");
    }
}
