package ferry;

import java.sql.*;

// A line that ends in "finds …" tells the rules that find something on it; the others find nothing.
class Rules {
    void right(Connection c, int vesselId, int sailingId) throws SQLException {
        CallableStatement cs = c.prepareCall("{? = call berth.assign(?, ?, ?)}");
        cs.registerOutParameter(1, Types.INTEGER);
        cs.setInt(2, vesselId);
        cs.setInt(3, sailingId);
        cs.registerOutParameter(4, Types.NVARCHAR);
        cs.execute();
        if (cs.getInt(1) != 0) throw new SQLException(cs.getString(4));
    }

    void shape(Connection c, int vesselId, int sailingId, int fromDeck, int toDeck) throws SQLException {
        c.prepareCall("{call berth.asign(?)}").execute(); // finds unknown-routine
        c.prepareCall("{call sp_who}").execute();
        CallableStatement two = c.prepareCall("{call release(?)}"); // finds ambiguous-call
        two.setInt(1, 4);
        CallableStatement few = c.prepareCall("{? = call berth.assign(?)}"); // finds missing-argument
        few.registerOutParameter(1, Types.INTEGER);
        few.setInt(2, vesselId);
        few.execute();
        check(few.getInt(1));
        CallableStatement many = c.prepareCall("{call deck.move(?, ?, ?)}");
        many.setInt(1, 1);
        many.setInt(2, 2);
        many.setInt(3, 3); // finds extra-argument
        CallableStatement named = c.prepareCall("{call deck.move(?, ?)}");
        named.setInt("from_dek", 1); // finds unknown-parameter
        named.setInt("to_deck", 2);
        named.execute();
        CallableStatement unset = c.prepareCall("{call deck.move(?, ?)}"); // finds unset-placeholder
        unset.setInt(1, 1);
        unset.execute();
        CallableStatement zero = c.prepareCall("{call deck.move(?, ?)}");
        zero.setInt(0, 1); // finds index-out-of-range
        zero.setInt(1, 1);
        zero.execute();
        CallableStatement past = c.prepareCall("{call deck.move(?, ?)}");
        past.setInt(1, 1);
        past.setInt(2, 1);
        past.setInt(3, 1); // finds index-out-of-range
        past.execute();
        CallableStatement shifted = c.prepareCall("{? = call deck.move(?, ?)}");
        shifted.setInt(1, 1); // finds index-out-of-range
        shifted.setInt(2, 1);
        shifted.execute();
        CallableStatement swapped = c.prepareCall("{call deck.move(?, ?)}");
        swapped.setInt(1, toDeck); // finds swapped-arguments
        swapped.setInt(2, fromDeck);
        swapped.execute();
        CallableStatement mixed = c.prepareCall("exec deck.move @from_deck = ?, ?"); // finds positional-after-named
        mixed.setInt(1, 1);
        mixed.setInt(2, 2);
        mixed.execute();
        CallableStatement joined = c.prepareCall("{call deck.move(" + fromDeck + ", ?)}"); // finds value-in-call-text
        joined.setInt(1, 2);
        joined.execute();
    }

    void loops(Connection c, Object[] values) throws SQLException {
        CallableStatement open = c.prepareCall("{call deck.move(?, ?)}");
        for (int i = 0; i < values.length; i++) open.setObject(i + 1, values[i]);
        open.execute();
    }

    void kinds(Connection c) throws SQLException {
        CallableStatement f = c.prepareCall("{call tide_at(?)}"); // finds kind-mismatch
        f.setString(1, "Saltmarsh");
        f.execute();
        CallableStatement g = c.prepareCall("{? = call tide_at(?)}");
        g.registerOutParameter(1, Types.TIMESTAMP);
        g.setString(2, "Saltmarsh");
        g.execute();
        show(g.getTimestamp(1));
        CallableStatement s = c.prepareCall("{call fare.slots(?)}"); // finds kind-mismatch
        s.setInt(1, 1);
        s.execute();
    }

    void directions(Connection c, java.math.BigDecimal total) throws SQLException {
        CallableStatement in = c.prepareCall("{call fare.quote(?, ?, ?)}");
        in.setInt(1, 1);
        in.setNull(2, Types.DATE);
        in.setBigDecimal(3, total); // finds out-not-received
        in.execute();
        CallableStatement out = c.prepareCall("{call deck.move(?, ?)}");
        out.setInt(1, 1);
        out.registerOutParameter(2, Types.TINYINT); // finds in-received-as-out
        out.execute();
        CallableStatement half = c.prepareCall("{call shift_sailing(?, ?)}");
        half.setInt(1, 1);
        half.setInt(2, 15); // finds inout-half-bound
        half.execute();
        CallableStatement other = c.prepareCall("{call shift_sailing(?, ?)}");
        other.setInt(1, 1);
        other.registerOutParameter(2, Types.INTEGER); // finds inout-half-bound
        other.execute();
        show(other.getInt(2));
        CallableStatement literal = c.prepareCall("{call fare.quote(?, ?, NULL)}"); // finds literal-for-out
        literal.setInt(1, 1);
        literal.setNull(2, Types.DATE);
        literal.execute();
        CallableStatement unread = c.prepareCall("{call fare.quote(?, ?, ?)}");
        unread.setInt(1, 1);
        unread.setNull(2, Types.DATE);
        unread.registerOutParameter(3, Types.DECIMAL); // finds out-never-read
        unread.execute();
        CallableStatement early = c.prepareCall("{call fare.quote(?, ?, ?)}");
        early.setInt(1, 1);
        early.setNull(2, Types.DATE);
        early.registerOutParameter(3, Types.DECIMAL);
        show(early.getBigDecimal(3)); // finds out-read-too-early
        early.execute();
    }

    int status(Connection c) throws SQLException {
        CallableStatement a = c.prepareCall("{call berth.assign(?, ?)}"); // finds status-ignored
        a.setInt(1, 1);
        a.setInt(2, 2);
        a.execute();
        CallableStatement b = c.prepareCall("{? = call berth.assign(?, ?)}");
        b.registerOutParameter(1, Types.INTEGER); // finds status-ignored
        b.setInt(2, 1);
        b.setInt(3, 2);
        b.execute();
        CallableStatement d = c.prepareCall("{? = call berth.assign(?, ?)}");
        d.registerOutParameter(1, Types.INTEGER);
        d.setInt(2, 1);
        d.setInt(3, 2);
        d.execute();
        int rc = d.getInt(1);
        if (rc == 40) { // finds status-not-handled
            show("full");
        }
        CallableStatement e = c.prepareCall("{? = call berth.assign(?, ?)}");
        e.registerOutParameter(1, Types.INTEGER);
        e.setInt(2, 1);
        e.setInt(3, 2);
        e.execute();
        int code = e.getInt(1);
        if (code == 44) { // finds status-never-returned
            show("taken");
        } else if (code != 0) {
            show("refused");
        }
        CallableStatement f = c.prepareCall("{? = call berth.assign(?, ?)}");
        f.registerOutParameter(1, Types.BIT); // finds status-type-mismatch
        f.setInt(2, 1);
        f.setInt(3, 2);
        f.execute();
        show(f.getBoolean(1));
        CallableStatement g = c.prepareCall("{? = call cancel_sailing(?, ?)}");
        g.registerOutParameter(1, Types.INTEGER); // finds status-not-available
        g.setInt(2, 1);
        g.registerOutParameter(3, Types.INTEGER);
        g.execute();
        show(g.getInt(3));
        CallableStatement h = c.prepareCall("{? = call berth.assign(?, ?)}");
        h.registerOutParameter(1, Types.INTEGER);
        h.setInt(2, 1);
        h.setInt(3, 2);
        h.execute();
        return h.getInt(1);
    }

    void results(Connection c) throws SQLException {
        c.prepareCall("{call berth.list}").execute(); // finds result-set-ignored
        CallableStatement q = c.prepareCall("{call berth.list}");
        ResultSet rs = q.executeQuery();
        while (rs.next()) {
            show(rs.getInt("berth_no"));
            show(rs.getString("vessel_name")); // finds result-set-missing
            show(rs.getInt(1), rs.getString(2));
            show(rs.getInt(0)); // finds result-set-missing
            show(rs.getString(3)); // finds result-set-missing
            for (int i = 1; i <= 9; i++) show(rs.getObject(i));
        }
        CallableStatement none = c.prepareCall("{call deck.move(?, ?)}");
        none.setInt(1, 1);
        none.setInt(2, 1);
        none.executeQuery().next(); // finds result-set-missing
        CallableStatement dynamic = c.prepareCall("{call fare.dynamic(?)}");
        dynamic.setString(1, "SELECT 1");
        dynamic.executeQuery().next();
    }

    void types(Connection c, java.sql.Date day) throws SQLException {
        CallableStatement a = c.prepareCall("{call fare.quote(?, ?, ?)}");
        a.setDate(1, day); // finds type-mismatch
        a.setInt(2, 20260504); // finds type-mismatch
        a.registerOutParameter(3, Types.DATE); // finds type-mismatch
        a.execute();
        show(a.getDate(3));
        CallableStatement b = c.prepareCall("{call fare.quote(?, ?, ?)}");
        b.setString(1, "1");
        b.setString(2, "2026-05-04");
        b.registerOutParameter(3, Types.VARCHAR);
        b.execute();
        show(b.getString(3));
    }
}
