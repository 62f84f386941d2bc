using System.Data;
using System.Collections.Generic;
using Microsoft.Data.SqlClient;

// A line that ends in "call …" tells which call is placed on it; lines without one have none.
static class Extensions
{
    public static void AddIn(this SqlCommand cmd, string name, object v)
    {
        cmd.Parameters.AddWithValue(name, v ?? DBNull.Value);
    }
}

class Lists
{
    void Arrays(SqlConnection c, string note, int id)
    {
        using var cmd = new SqlCommand("lists.arrays", c) { CommandType = System.Data.CommandType.StoredProcedure }; // call lists.arrays(in int32 @id id, in int32 @x 1, out int32 @y)
        cmd.AddIn("@id", id);
        SqlParameter[] ps = { new SqlParameter("@x", 1), new SqlParameter("@y", SqlDbType.Int) { Direction = ParameterDirection.Output } };
        cmd.Parameters.AddRange(ps);
        cmd.ExecuteNonQuery();
    }

    void Loops(SqlConnection c, string note)
    {
        var cmd = new SqlCommand("lists.loops", c); // call lists.loops(in int32 @x 2, inout string @n (object?)note ?? DBNull.Value)
        cmd.CommandType = CommandType.StoredProcedure;
        foreach (var p in new List<SqlParameter> { new("@x", 2), new SqlParameter("@n", (object?)note ?? DBNull.Value) }) cmd.Parameters.Add(p);
        cmd.Parameters["@n"].Direction = ParameterDirection.InputOutput;
        cmd.ExecuteNonQuery();
    }

    void Initializers(SqlConnection c, string note, int id)
    {
        var arr = new SqlParameter[] { new SqlParameter("@q", note) };
        var cmd = new SqlCommand("lists.init", c) { CommandType = CommandType.StoredProcedure, Parameters = { new SqlParameter("@k", id), { "@m", note } } }; // call lists.init(in int32 @k id, in string @m note, in string @q note) open
        cmd.Parameters.AddRange(arr.ToArray());
        cmd.AddEverything(id);
        cmd.ExecuteNonQuery();
    }

    void ThroughWrapper(string note, int id)
    {
        Run("lists.wrapped", new SqlParameter("@a", id), new SqlParameter("@b", note)); // call lists.wrapped(in int32 @a id, in string @b note)
        Run("lists.none"); // call lists.none()
    }

    int Run(string proc, params SqlParameter[] ps)
    {
        using var cmd = new SqlCommand(proc, _c);
        cmd.CommandType = CommandType.StoredProcedure;
        foreach (var p in ps) cmd.Parameters.Add(p);
        return cmd.ExecuteNonQuery();
    }

    void Branches(SqlConnection c, bool wide, int? day)
    {
        string proc;
        if (wide)
        {
            proc = "lists.wide"; // call lists.wide(in int32 @day 1)
        }
        else
        {
            proc = "lists.narrow"; // call lists.narrow(in int32 @day 1)
        }
        using var cmd = new SqlCommand(proc, c) { CommandType = CommandType.StoredProcedure };
        if (day == null) cmd.Parameters.AddWithValue("@day", 1);
        cmd.ExecuteNonQuery();
    }

    void Reused(SqlConnection c)
    {
        var cmd = c.CreateCommand();
        cmd.CommandText = "lists.first"; // call lists.first()
        cmd.CommandType = CommandType.StoredProcedure;
        cmd.ExecuteNonQuery();
        cmd.Parameters.Clear();
        cmd.CommandText = "lists.second"; // call lists.second(in int32 @a 1)
        cmd.Parameters.AddWithValue("@a", 1);
        cmd.ExecuteNonQuery();
    }
}
