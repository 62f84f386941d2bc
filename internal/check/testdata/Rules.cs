using System.Data;
using Microsoft.Data.SqlClient;

// A line that ends in "finds …" tells the rules that find something on it; the others find nothing.
class Rules
{
    void Right(SqlConnection c, int id)
    {
        using var cmd = new SqlCommand("berth.assign", c) { CommandType = CommandType.StoredProcedure };
        cmd.Parameters.Add("@vessel_id", SqlDbType.Int).Value = id;
        cmd.Parameters.Add("sailing_id", SqlDbType.Int).Value = id;
        cmd.Parameters.Add("@note", SqlDbType.NVarChar, 200).Direction = ParameterDirection.Output;
        cmd.Parameters.Add("@rc", SqlDbType.Int).Direction = ParameterDirection.ReturnValue;
        cmd.ExecuteNonQuery();
        if ((int)cmd.Parameters["@rc"].Value != 0) throw new Exception((string)cmd.Parameters["@note"].Value);
    }

    void Shape(SqlConnection c, int id)
    {
        new SqlCommand("berth.gone", c) { CommandType = CommandType.StoredProcedure }.ExecuteNonQuery(); // finds unknown-routine
        using var a = new SqlCommand("deck.move", c) { CommandType = CommandType.StoredProcedure };
        a.Parameters.AddWithValue("@from_dek", 1); // finds unknown-parameter
        a.Parameters.AddWithValue("@to_deck", 1);
        a.Parameters.AddWithValue("@to_deck", 2); // finds duplicate-argument
        a.ExecuteNonQuery();
        using var b = new SqlCommand("deck.move", c) { CommandType = CommandType.StoredProcedure }; // finds missing-argument
        b.Parameters.AddWithValue("@from_deck", 1);
        b.ExecuteNonQuery();
        using var bare = new SqlCommand("deck.move", c); // finds missing-argument missing-argument
        bare.Parameters.AddWithValue("@from_deck", 1);
        bare.Parameters.AddWithValue("@to_deck", 1);
        bare.ExecuteNonQuery();
        using var text = new SqlCommand("EXEC deck.move @from, @to", c); // finds unset-placeholder
        text.Parameters.AddWithValue("@from", 1);
        text.ExecuteNonQuery();
        using var joined = new SqlCommand($"EXEC deck.move {id}, 2", c); // finds value-in-call-text
        joined.ExecuteNonQuery();
        using var derived = new SqlCommand("deck.move", c) { CommandType = CommandType.StoredProcedure };
        SqlCommandBuilder.DeriveParameters(derived);
        derived.Parameters["@nothing"].Value = 1;
        derived.ExecuteNonQuery();
    }

    void Directions(SqlConnection c, MySqlConnection m, int id)
    {
        using var a = new SqlCommand("fare.quote", c) { CommandType = CommandType.StoredProcedure };
        a.Parameters.AddWithValue("@sailing_id", id);
        a.Parameters.Add("@total", SqlDbType.Decimal); // finds out-not-received
        a.ExecuteNonQuery();
        using var b = new SqlCommand("EXEC fare.quote @id, DEFAULT, @total", c);
        b.Parameters.AddWithValue("@id", id);
        b.Parameters.Add("@total", SqlDbType.Decimal).Direction = ParameterDirection.Output; // finds out-not-received
        b.ExecuteNonQuery();
        using var d = new SqlCommand("deck.move", c) { CommandType = CommandType.StoredProcedure };
        d.Parameters.AddWithValue("@from_deck", 1);
        d.Parameters.Add("@to_deck", SqlDbType.TinyInt).Direction = ParameterDirection.Output; // finds in-received-as-out
        d.ExecuteNonQuery();
        using var e = new MySqlCommand("shift_sailing", m) { CommandType = CommandType.StoredProcedure };
        e.Parameters.AddWithValue("p_id", 1);
        e.Parameters.AddWithValue("p_minutes", 15); // finds inout-half-bound
        e.ExecuteNonQuery();
        using var f = new SqlCommand("fare.quote", c) { CommandType = CommandType.StoredProcedure };
        f.Parameters.AddWithValue("@sailing_id", id);
        f.Parameters.Add("@total", SqlDbType.Decimal).Direction = ParameterDirection.Output; // finds out-never-read
        f.ExecuteNonQuery();
        using var g = new SqlCommand("fare.quote", c) { CommandType = CommandType.StoredProcedure };
        g.Parameters.AddWithValue("@sailing_id", id);
        var total = g.Parameters.Add("@total", SqlDbType.Decimal);
        total.Direction = ParameterDirection.Output;
        using var r = g.ExecuteReader(); // the routine sends none, but nothing is read of it
        var early = (decimal)total.Value; // finds out-read-too-early
    }

    void Types(SqlConnection c, DateTime day)
    {
        using var a = new SqlCommand("fare.quote", c) { CommandType = CommandType.StoredProcedure };
        a.Parameters.Add("@sailing_id", SqlDbType.Date).Value = day; // finds type-mismatch
        a.Parameters.AddWithValue("@born", null);
        var total = a.Parameters.Add("@total", SqlDbType.Decimal);
        total.Direction = ParameterDirection.Output;
        a.ExecuteNonQuery();
        var s = (string)total.Value; // finds type-mismatch
        using var b = new SqlCommand("pass.code", c) { CommandType = CommandType.StoredProcedure };
        b.Parameters.Add("@code", SqlDbType.VarChar).Direction = ParameterDirection.Output; // finds size-missing
        b.Parameters.Add("@photo", SqlDbType.VarBinary, -1).Direction = ParameterDirection.Output;
        b.ExecuteNonQuery();
        Use(b.Parameters["@code"].Value, b.Parameters["@photo"].Value);
        using var d = new SqlCommand("pass.code", c) { CommandType = CommandType.StoredProcedure };
        d.Parameters.Add("@code", SqlDbType.VarChar, 10).Direction = ParameterDirection.Output; // finds size-mismatch
        d.Parameters.Add("@photo", SqlDbType.VarBinary, 8000).Direction = ParameterDirection.Output; // finds size-mismatch
        d.ExecuteNonQuery();
        Use(d.Parameters["@code"].Value, d.Parameters["@photo"].Value);
        using var e = new SqlCommand("fare.release", c) { CommandType = CommandType.StoredProcedure };
        e.Parameters.AddWithValue("@id", null); // finds default-missing
        e.ExecuteNonQuery();
    }

    bool Status(SqlConnection c)
    {
        using var a = new SqlCommand("berth.assign", c) { CommandType = CommandType.StoredProcedure };
        a.Parameters.AddWithValue("@vessel_id", 1);
        a.Parameters.AddWithValue("@sailing_id", 1);
        if (a.ExecuteNonQuery() == 0) return true; // finds status-ignored
        using var b = new SqlCommand("EXEC berth.assign 1, 2", c);
        b.Parameters.Add("@rc", SqlDbType.Int).Direction = ParameterDirection.ReturnValue; // finds status-not-available
        b.ExecuteNonQuery();
        using var d = new SqlCommand("berth.assign", c) { CommandType = CommandType.StoredProcedure };
        d.Parameters.AddWithValue("@vessel_id", 1);
        d.Parameters.AddWithValue("@sailing_id", 1);
        var rc = d.Parameters.Add("@rc", SqlDbType.Int);
        rc.Direction = ParameterDirection.ReturnValue;
        d.ExecuteNonQuery();
        switch ((int)rc.Value) // finds status-not-handled
        {
            case 0: Use(1); break;
            case 42: Use(2); break; // finds status-never-returned
        }
        // ramekin: allow status-ignored -- a rehearsal
        using var e = new SqlCommand("EXEC berth.assign 1, 2", c);
        e.ExecuteNonQuery();
        return false;
    }

    void Results(SqlConnection c)
    {
        using var a = new SqlCommand("berth.list", c) { CommandType = CommandType.StoredProcedure }; // finds result-set-ignored
        a.ExecuteNonQuery();
        using var b = new SqlCommand("berth.list", c) { CommandType = CommandType.StoredProcedure };
        using var reader = b.ExecuteReader();
        while (reader.Read()) Use(reader["berth_no"], reader["ship"]); // finds result-set-missing
        using var d = new SqlCommand("fare.release", c) { CommandType = CommandType.StoredProcedure };
        d.Parameters.AddWithValue("@id", 1);
        var x = d.ExecuteScalar(); // finds result-set-missing
    }
}
