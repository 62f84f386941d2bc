using System;
using System.Collections.Generic;
using System.Data;
using System.Threading.Tasks;
using Microsoft.Data.SqlClient;

namespace Ferry.Desk;

/// <summary>Berths, over the ticket desk's database.</summary>
public sealed class BerthStore
{
    private const string AssignBerth = "berth.assign_berth";
    private readonly SqlConnection _desk;

    public BerthStore(SqlConnection desk) => _desk = desk;

    /// <summary>Right: size, direction and status.</summary>
    public async Task<string> AssignAsync(int vesselId, int sailingId)
    {
        await using var cmd = new SqlCommand(AssignBerth, _desk) { CommandType = CommandType.StoredProcedure };
        cmd.Parameters.Add("@vessel_id", SqlDbType.Int).Value = vesselId;
        cmd.Parameters.Add("@sailing_id", SqlDbType.Int).Value = sailingId;
        var note = cmd.Parameters.Add("@note", SqlDbType.NVarChar, 200);
        note.Direction = ParameterDirection.Output;
        var status = cmd.Parameters.Add("@status", SqlDbType.Int);
        status.Direction = ParameterDirection.ReturnValue;
        await cmd.ExecuteNonQueryAsync();
        return (int)status.Value switch
        {
            0 => (string)note.Value,
            40 => throw new ArgumentException((string)note.Value),
            _ => throw new InvalidOperationException((string)note.Value),
        };
    }

    /// <summary>The output has no size.</summary>
    public string AssignShort(int vesselId, int sailingId)
    {
        using var cmd = new SqlCommand(AssignBerth, _desk) { CommandType = CommandType.StoredProcedure };
        cmd.Parameters.Add("@vessel_id", SqlDbType.Int).Value = vesselId;
        cmd.Parameters.Add("@sailing_id", SqlDbType.Int).Value = sailingId;
        var note = new SqlParameter { ParameterName = "@note", SqlDbType = SqlDbType.NVarChar, Direction = ParameterDirection.Output };
        cmd.Parameters.Add(note);
        var status = new SqlParameter { ParameterName = "@status", Direction = ParameterDirection.ReturnValue };
        cmd.Parameters.Add(status);
        cmd.ExecuteNonQuery();
        return (int)status.Value == 0 ? "" : (string)note.Value;
    }

    /// <summary>A letter is missing, and what comes back is taken for the status.</summary>
    public bool AssignOrNot(int vesselId, int sailingId)
    {
        using var cmd = _desk.CreateCommand();
        cmd.CommandText = "berth.assign_berth";
        cmd.CommandType = CommandType.StoredProcedure;
        cmd.Parameters.AddWithValue("@vesel_id", vesselId);
        cmd.Parameters.AddWithValue("@sailing_id", sailingId);
        int rc = cmd.ExecuteNonQuery();
        return rc == 0;
    }

    /// <summary>Right: text of a statement, with the word and the direction.</summary>
    public string AssignByText(int vesselId, int sailingId)
    {
        using var cmd = new SqlCommand("EXEC @status = berth.assign_berth @vessel_id, @sailing_id, @note OUTPUT", _desk);
        cmd.Parameters.AddWithValue("@vessel_id", vesselId);
        cmd.Parameters.AddWithValue("@sailing_id", sailingId);
        cmd.Parameters.Add("@note", SqlDbType.NVarChar, 200).Direction = ParameterDirection.Output;
        cmd.Parameters.Add("@status", SqlDbType.Int).Direction = ParameterDirection.Output;
        cmd.ExecuteNonQuery();
        if ((int)cmd.Parameters["@status"].Value != 0)
        {
            throw new InvalidOperationException((string)cmd.Parameters["@note"].Value);
        }
        return (string)cmd.Parameters["@note"].Value;
    }

    /// <summary>Right: the routine's own default for what is not given.</summary>
    public List<int> List()
    {
        var numbers = new List<int>();
        using var cmd = new SqlCommand("berth.list_berths", _desk) { CommandType = CommandType.StoredProcedure };
        using var reader = cmd.ExecuteReader();
        while (reader.Read())
        {
            numbers.Add((int)reader["berth_no"]);
        }
        return numbers;
    }

    /// <summary>A date is passed as a number, and the rows are thrown away.</summary>
    public void ListOn(DateTime day)
    {
        using var cmd = new SqlCommand("berth.list_berths", _desk) { CommandType = CommandType.StoredProcedure };
        cmd.Parameters.Add("@day", SqlDbType.Int).Value = day.DayOfYear;
        cmd.ExecuteNonQuery();
    }

    /// <summary>null leaves the parameter out, and it has no default; the code it compares with was renumbered.</summary>
    public void Release(int? assignmentId)
    {
        using var cmd = new SqlCommand("berth.release_berth", _desk) { CommandType = CommandType.StoredProcedure };
        cmd.Parameters.Add("@assignment_id", SqlDbType.Int).Value = null;
        var status = cmd.Parameters.Add("@status", SqlDbType.Int);
        status.Direction = ParameterDirection.ReturnValue;
        cmd.ExecuteNonQuery();
        if ((int)status.Value == 43)
        {
            throw new KeyNotFoundException($"{assignmentId}");
        }
    }
}
