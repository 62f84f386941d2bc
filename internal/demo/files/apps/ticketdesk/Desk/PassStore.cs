using System;
using System.Data;
using System.Data.Common;
using System.Threading;
using System.Threading.Tasks;
using Microsoft.Data.SqlClient;
using MySqlConnector;

namespace Ferry.Desk;

public sealed class PassStore(SqlConnection desk, MySqlConnection timetable)
{
    /// <summary>Right.</summary>
    public async Task<(string Code, decimal Fare)?> IssueAsync(int sailingId, string passenger, CancellationToken ct)
    {
        using SqlCommand cmd = new("pass.issue_pass", desk) { CommandType = CommandType.StoredProcedure };
        cmd.Parameters.AddRange(new[]
        {
            new SqlParameter("@sailing_id", SqlDbType.Int) { Value = sailingId },
            new SqlParameter("@passenger", SqlDbType.NVarChar, 80) { Value = passenger },
            new SqlParameter("@pass_code", SqlDbType.VarChar, 14) { Direction = ParameterDirection.Output },
            new SqlParameter("@fare", SqlDbType.Decimal) { Precision = 8, Scale = 2, Direction = ParameterDirection.Output },
            new SqlParameter("@status", SqlDbType.Int) { Direction = ParameterDirection.ReturnValue },
        });
        await cmd.ExecuteNonQueryAsync(ct).ConfigureAwait(false);
        var status = (int)cmd.Parameters["@status"].Value;
        if (status != 0)
        {
            return null;
        }
        return ((string)cmd.Parameters["@pass_code"].Value, (decimal)cmd.Parameters["@fare"].Value);
    }

    /// <summary>The pass code is cut after ten characters, and given twice.</summary>
    public string IssueCut(int sailingId, string passenger)
    {
        using var cmd = new SqlCommand("pass.issue_pass", desk) { CommandType = CommandType.StoredProcedure };
        cmd.Parameters.AddWithValue("@sailing_id", sailingId);
        cmd.Parameters.AddWithValue("@sailing_id", sailingId);
        cmd.Parameters.AddWithValue("@passenger", passenger);
        cmd.Parameters.Add("@pass_code", SqlDbType.VarChar, 10).Direction = ParameterDirection.Output;
        cmd.Parameters.Add("@fare", SqlDbType.Decimal).Direction = ParameterDirection.Output;
        cmd.Parameters.Add("@status", SqlDbType.Int).Direction = ParameterDirection.ReturnValue;
        cmd.ExecuteNonQuery();
        if ((int)cmd.Parameters["@status"].Value != 0)
        {
            throw new InvalidOperationException("refused at " + cmd.Parameters["@fare"].Value);
        }
        return (string)cmd.Parameters["@pass_code"].Value;
    }

    /// <summary>The time is read while the reader is open.</summary>
    public DateTime CheckIn(string passCode)
    {
        using var cmd = new SqlCommand("pass.check_in", desk) { CommandType = CommandType.StoredProcedure };
        cmd.Parameters.Add("@pass_code", SqlDbType.VarChar, 14).Value = passCode;
        var at = cmd.Parameters.Add("@checked_at", SqlDbType.DateTime2);
        at.Direction = ParameterDirection.Output;
        var status = cmd.Parameters.Add("@status", SqlDbType.Int);
        status.Direction = ParameterDirection.ReturnValue;
        DateTime when;
        using (var reader = cmd.ExecuteReader())
        {
            while (reader.Read())
            {
                Console.WriteLine(reader["passenger"]);
            }
            when = (DateTime)at.Value;
        }
        if ((int)status.Value == 60)
        {
            throw new InvalidOperationException("no such pass");
        }
        return when;
    }

    /// <summary>The word is in the text, the direction is not set; and a ReturnValue gets nothing beside a text.</summary>
    public decimal Quote(int sailingId)
    {
        using var cmd = new SqlCommand("EXEC fare.quote_fare @sailing_id = @sailing, @fare = @fare OUTPUT", desk);
        cmd.Parameters.AddWithValue("@sailing", sailingId);
        cmd.Parameters.Add("@fare", SqlDbType.Decimal);
        cmd.Parameters.Add("@status", SqlDbType.Int).Direction = ParameterDirection.ReturnValue;
        cmd.ExecuteNonQuery();
        return (decimal)cmd.Parameters["@fare"].Value;
    }

    /// <summary>Without its type the command is a text, and the parameters are not passed on.</summary>
    public void Move(string registration, byte fromDeck, byte toDeck)
    {
        // ramekin: allow status-ignored -- one mistake at a time
        using var cmd = new SqlCommand("deck.move_vehicle", desk);
        cmd.Parameters.AddWithValue("@registration", registration);
        cmd.Parameters.AddWithValue("@from_deck", fromDeck);
        cmd.Parameters.AddWithValue("@to_deck", toDeck);
        cmd.ExecuteNonQuery();
    }

    /// <summary>Right: against the common base.</summary>
    public async Task<int> CancelAsync(DbConnection db, int sailingId, string reason)
    {
        await using DbCommand cmd = db.CreateCommand();
        cmd.CommandText = "cancel_sailing";
        cmd.CommandType = CommandType.StoredProcedure;
        Add(cmd, "p_sailing_id", sailingId);
        Add(cmd, "p_reason", reason);
        DbParameter passes = cmd.CreateParameter();
        passes.ParameterName = "p_passes";
        passes.DbType = DbType.Int32;
        passes.Direction = ParameterDirection.Output;
        cmd.Parameters.Add(passes);
        await cmd.ExecuteNonQueryAsync();
        return (int)passes.Value!;
    }

    private static void Add(DbCommand cmd, string name, object value)
    {
        DbParameter p = cmd.CreateParameter();
        p.ParameterName = name;
        p.Value = value;
        cmd.Parameters.Add(p);
    }

    /// <summary>An input is asked for as an output.</summary>
    public string Roster(int sailingId, int crewId)
    {
        using var cmd = new MySqlCommand("roster_crew", timetable) { CommandType = CommandType.StoredProcedure };
        cmd.Parameters.AddWithValue("p_sailing_id", sailingId);
        cmd.Parameters.AddWithValue("p_crew_id", crewId);
        cmd.Parameters.Add("p_role", MySqlDbType.VarChar, 20).Direction = ParameterDirection.Output;
        cmd.Parameters.Add("p_outcome", MySqlDbType.VarChar, 100).Direction = ParameterDirection.Output;
        cmd.ExecuteNonQuery();
        return (string)cmd.Parameters["p_outcome"].Value!;
    }

    /// <summary>Right: rows into a table.</summary>
    public DataTable Crew(int sailingId)
    {
        using var cmd = new MySqlCommand("CALL crew_of(@sailing)", timetable);
        cmd.Parameters.AddWithValue("@sailing", sailingId);
        using var adapter = new MySqlDataAdapter(cmd);
        var rows = new DataTable();
        adapter.Fill(rows);
        return rows;
    }
}
