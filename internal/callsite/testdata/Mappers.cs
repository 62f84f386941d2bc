using Dapper;
using Microsoft.Data.SqlClient;
using System.Data;

class Mappers
{
    private readonly SqlConnection _conn;

    async Task<int> Named(int id)
    {
        var p = new DynamicParameters();
        p.Add("@vessel_id", id);
        p.Add("note", dbType: DbType.String, direction: ParameterDirection.Output, size: 200);
        p.Add("@rc", dbType: DbType.Int32, direction: ParameterDirection.ReturnValue);
        await _conn.ExecuteAsync("berth.assign", p, commandType: CommandType.StoredProcedure); // call berth.assign(return int32, in int32 @vessel_id id, out string note) captured
        var note = p.Get<string>("note");
        return p.Get<int>("@rc");
    }

    IEnumerable<Fare> Rows(int id, string kind) =>
        _conn.Query<Fare>("fares.list", new { vessel_id = id, kind }, commandType: CommandType.StoredProcedure); // call fares.list(in int32 vessel_id id, in string kind kind) read

    void Text(int id)
    {
        _conn.Execute("EXEC fares.touch @id, @why", new { id, why = "x" }); // call fares.touch(in int32 id, in string "x")
        _conn.Query("SELECT * FROM fares WHERE id = @id", new { id });
    }

    void Ef(Ctx db, int id, string kind)
    {
        var fares = db.Fares.FromSqlInterpolated($"EXEC fares.list {id}, {kind}").ToList(); // call fares.list(in int32 id, in string kind) read
        db.Database.ExecuteSqlRaw("EXEC fares.touch {0}, {1}", id, "x"); // call fares.touch(in int32 id, in string "x")
        var rc = new SqlParameter("@rc", SqlDbType.Int) { Direction = ParameterDirection.Output };
        db.Database.ExecuteSqlRaw("EXEC @rc = fares.close @id", rc, new SqlParameter("@id", id)); // call fares.close(return int32, in int32 id) captured
        Console.WriteLine(rc.Value);
    }

    void Oracle(OracleConnection conn, int id)
    {
        var cmd = new OracleCommand("harbour.book", conn) { CommandType = CommandType.StoredProcedure, BindByName = true }; // call harbour.book(in int32 berth_no id)
        cmd.Parameters.Add("berth_no", id);
        cmd.ExecuteNonQuery();
        var block = new OracleCommand("BEGIN :r := harbour.free(:n, 2); END;", conn); // call harbour.free(return decimal r, in int32 id, in int32 2) captured
        block.Parameters.Add("r", OracleDbType.Decimal, ParameterDirection.ReturnValue);
        block.Parameters.Add("n", id);
        block.ExecuteNonQuery();
        var free = block.Parameters["r"].Value;
    }
}
