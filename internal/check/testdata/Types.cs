using System;
using System.Data;
using Microsoft.Data.SqlClient;

// A line that ends in "finds …" tells the rules that find something on it; the others find nothing.
class TypesOfValues
{
    void Converted(SqlConnection c, Guid key, DateTimeOffset seen)
    {
        using var cmd = new SqlCommand("cargo.weigh", c) { CommandType = CommandType.StoredProcedure };
        cmd.Parameters.Add("@manifest", SqlDbType.Xml).Value = "<m/>";
        cmd.Parameters.AddWithValue("@key", key);
        cmd.Parameters.AddWithValue("@seen", seen);
        cmd.Parameters.Add("@at", SqlDbType.Time).Value = TimeSpan.FromHours(7);
        cmd.Parameters.AddWithValue("@full", true);
        cmd.Parameters.AddWithValue("@heavy", 12.5);
        cmd.Parameters.AddWithValue("@tag", "tag");
        cmd.Parameters.Add("@kilos", SqlDbType.Decimal).Direction = ParameterDirection.Output;
        cmd.Parameters.Add("@stamp", SqlDbType.DateTime2).Direction = ParameterDirection.Output;
        cmd.Parameters.Add("@label", SqlDbType.NVarChar, 128).Direction = ParameterDirection.Output;
        cmd.Parameters.Add("@ok", SqlDbType.Bit).Direction = ParameterDirection.Output;
        cmd.Parameters.Add("@big", SqlDbType.BigInt).Direction = ParameterDirection.Output;
        cmd.Parameters.Add("@rc", SqlDbType.Int).Direction = ParameterDirection.ReturnValue;
        cmd.ExecuteNonQuery();
        int rc = Convert.ToInt32(cmd.Parameters["@rc"].Value);
        if (rc == 3) throw new InvalidOperationException("full");
        if (rc == 5) return; // finds status-never-returned
        string kilos = Convert.ToString(cmd.Parameters["@kilos"].Value);
        string again = (string)cmd.Parameters["@kilos"].Value.ToString();
        var stamp = Convert.ToDateTime(cmd.Parameters["@stamp"].Value).AddDays(1);
        string label = cmd.Parameters["@label"].Value as string ?? "";
        bool ok = Convert.ToBoolean(cmd.Parameters["@ok"].Value);
        long big = long.Parse(cmd.Parameters["@big"].Value.ToString());
        Use(kilos, again, stamp, label, ok, big);
    }

    void Wrong(SqlConnection c, byte[] photo, DateTime day)
    {
        using var cmd = new SqlCommand("cargo.weigh", c) { CommandType = CommandType.StoredProcedure };
        cmd.Parameters.AddWithValue("@manifest", "<m/>");
        cmd.Parameters.Add("@key", SqlDbType.Int).Value = 7; // finds type-mismatch
        cmd.Parameters.Add("@seen", SqlDbType.Int).Value = 7; // finds type-mismatch
        cmd.Parameters.Add("@at", SqlDbType.Date).Value = day; // finds type-mismatch
        cmd.Parameters.Add("@full", SqlDbType.Date).Value = day; // finds type-mismatch
        cmd.Parameters.Add("@heavy", SqlDbType.UniqueIdentifier).Value = Guid.Empty; // finds type-mismatch
        cmd.Parameters.AddWithValue("@tag", "tag");
        cmd.Parameters.Add("@kilos", SqlDbType.Bit).Direction = ParameterDirection.Output; // finds type-mismatch
        cmd.Parameters.Add("@stamp", SqlDbType.Int).Direction = ParameterDirection.Output; // finds type-mismatch
        cmd.Parameters.Add("@label", SqlDbType.NVarChar, 64).Direction = ParameterDirection.Output; // finds size-mismatch
        cmd.Parameters.Add("@ok", SqlDbType.DateTime).Direction = ParameterDirection.Output; // finds type-mismatch
        cmd.Parameters.Add("@big", SqlDbType.BigInt).Direction = ParameterDirection.Output;
        cmd.Parameters.Add("@rc", SqlDbType.Int).Direction = ParameterDirection.ReturnValue;
        cmd.ExecuteNonQuery();
        Use(cmd.Parameters["@rc"].Value, cmd.Parameters["@kilos"].Value, cmd.Parameters["@stamp"].Value, cmd.Parameters["@label"].Value);
        Use((bool)cmd.Parameters["@ok"].Value);
        Use((string)cmd.Parameters["@big"].Value); // finds type-mismatch
    }

    static SqlParameter Out(string name, SqlDbType type, int size = 0) => new(name, type, size) { Direction = ParameterDirection.Output };

    // new(…) takes its type from where it stands.
    int TargetTyped(SqlConnection c, int vessel, int sailing)
    {
        using SqlCommand a = new("berth.assign", c) { CommandType = CommandType.StoredProcedure, Parameters = { new("@vessel_id", vessel), new("@sailing_id", sailing), Out("@note", SqlDbType.NVarChar, 200), new("@rc", SqlDbType.Int) { Direction = ParameterDirection.ReturnValue } } };
        a.ExecuteNonQuery();
        Use(a.Parameters["@note"].Value);
        if (a.Parameters["@rc"].Value is int rc && rc != 0) return rc;
        using var b = new SqlCommand("berth.assign", c) { CommandType = CommandType.StoredProcedure };
        SqlParameter[] both = [new("@vessel_id", vessel), new("@sailing_id", sailing)];
        b.Parameters.AddRange(both);
        b.Parameters.Add(new("@note", SqlDbType.NVarChar) { Direction = ParameterDirection.Output }); // finds size-missing
        var status = b.Parameters.Add(new("@rc", SqlDbType.Int) { Direction = ParameterDirection.ReturnValue });
        b.ExecuteNonQuery();
        Use(b.Parameters["@note"].Value);
        if ((int)status.Value != 0) return 1;
        using var d = new SqlCommand("berth.assign", c) { CommandType = CommandType.StoredProcedure }; // finds missing-argument
        List<SqlParameter> some = new() { new("@vessel_id", vessel) };
        some.Add(new("@rc", SqlDbType.Int) { Direction = ParameterDirection.ReturnValue });
        d.Parameters.AddRange(some.ToArray());
        d.ExecuteNonQuery();
        return (int)some[1].Value;
    }

    // What is added out of sight may be the status code.
    int OutOfSight(SqlConnection c, int vessel, SqlParameter more)
    {
        using var a = new SqlCommand("berth.assign", c) { CommandType = CommandType.StoredProcedure };
        a.Parameters.AddRange([new SqlParameter("@vessel_id", vessel), more]);
        a.ExecuteNonQuery();
        Use(a.Parameters["@vesselid"].Value); // finds unknown-parameter
        return (int)a.Parameters["@rc"].Value;
    }

    // A reader counts its columns from 0.
    void Columns(SqlConnection c)
    {
        using var cmd = new SqlCommand("berth.list", c) { CommandType = CommandType.StoredProcedure };
        using var r = cmd.ExecuteReader();
        int n = 0;
        while (r.Read())
        {
            Use(r.GetInt32(0), r.GetString(1), r[0], r["vessel"], r.GetValue(n++));
            Use(r.IsDBNull(2)); // finds result-set-missing
            Use(r[n], r[2]); // finds result-set-missing
        }
    }
}
