package ferry;

import java.math.BigDecimal;
import java.sql.*;
import java.util.List;

// A line that ends in "call …" tells which call is placed on it; lines without one have none.
public class Jdbc {
    static final String NAMED = "{call pass.check_in(?, ?)}"; // call pass.check_in(in string code code, out timestamp checked_at)
    private static final String SCHEMA = "berth.";
    private static final int FIRST = 1;
    private final Connection conn;
    private CallableStatement kept;

    Jdbc(Connection conn) throws SQLException {
        this.conn = conn;
        this.kept = conn.prepareCall("{call kept.in_field(?)}"); // call kept.in_field(in int64 id)
    }

    void byIndex(int id, Long big, String note) throws SQLException {
        try (CallableStatement cs = conn.prepareCall("{? = call " + SCHEMA + "assign(?,?, 5, 'x,y', NULL)}")) { // call berth.assign(return int32, in int32 id, inout string note, in int32 5, in string 'x,y', in unknown NULL) captured
            cs.registerOutParameter(FIRST, Types.INTEGER);
            cs.setInt(FIRST + 1, id);
            cs.setString(3, note);
            cs.registerOutParameter(3, java.sql.Types.VARCHAR);
            cs.execute();
            use(cs.getInt(1));
        }
        if (id == 0) return;
        CallableStatement all = conn.prepareCall("call every.setter(?, ?, ?, ?, ?, ?, ?)"); // call every.setter(in int64 big, in decimal amount(), in date null, in string (String) o, in bytes b, out decimal, unset)
        all.setObject(1, big);
        all.setBigDecimal(2, amount());
        all.setNull(3, Types.DATE);
        all.setObject(4, (String) o, Types.VARCHAR);
        all.setBytes(5, b);
        all.registerOutParameter(6, JDBCType.DECIMAL, 2);
        all.setQueryTimeout(10);
        all.executeUpdate();
    }

    void byName(String code) throws SQLException {
        CallableStatement cs = conn.prepareCall(NAMED);
        cs.setString("code", code);
        cs.registerOutParameter("checked_at", Types.TIMESTAMP);
        cs.execute();
        cs.getTimestamp("checked_at");
    }

    List<String> rows(boolean wide, String day) throws SQLException {
        String sql = wide
            ? "exec list.wide @day = ?" // call list.wide(in string @day day) read
            : "exec list.narrow ?"; // call list.narrow(in string day) read
        CallableStatement cs = conn.prepareCall(sql);
        cs.setString(1, day);
        ResultSet rs = cs.executeQuery();
        while (rs.next()) use(rs.getString("vessel"));
        return null;
    }

    void texts(int a) throws SQLException {
        String block = """
            {
              call blocks.text(?)
            }
            """;
        StringBuilder sb = new StringBuilder();
        sb.append("{call built.step(");
        sb.append("?");
        sb.append(")}");
        bindOne(conn.prepareCall(sb.toString()), a);
        try (Statement st = conn.createStatement()) {
            st.execute("EXEC joined.value " + a + ", 3"); // call joined.value(in unknown <a>, in int32 3)
            st.executeQuery(String.format("CALL formatted.value(%d)", a)); // call formatted.value(in unknown <a>) read
        }
        PreparedStatement ps = conn.prepareStatement("EXEC ? = prepared.exec ?, ? OUTPUT"); // call prepared.exec(return unknown, in int32 a, unset) captured
        ps.setInt(2, a);
        ps.execute();
    }

    private void bindOne(CallableStatement cs, int value) throws SQLException {
        cs.setInt(1, value);
        cs.execute();
    }

    void counters(List<Object> values) throws SQLException {
        int i = 0;
        CallableStatement cs = conn.prepareCall("{call counted.up(?, ?, ?)}"); // call counted.up(in int32 1, in int32 2, in int32 3)
        cs.setInt(++i, 1);
        cs.setInt(++i, 2);
        cs.setInt(++i, 3);
        CallableStatement open = conn.prepareCall("{call counted.in_loop(?, ?)}"); // call counted.in_loop(unset, unset) open
        for (int k = 0; k < values.size(); k++) {
            open.setObject(k + 1, values.get(k));
        }
    }

    void unknown(String step) throws SQLException {
        conn.prepareCall("{call night." + step + "(?)}"); // call ?
        conn.prepareCall(textOf(step)); // call ?
    }

    void useField(long id) throws SQLException {
        kept.setLong(1, id);
        kept.execute();
    }

    CallableStatement open(String text) throws SQLException {
        return conn.prepareCall(text);
    }

    void throughHelper(int id) throws SQLException {
        CallableStatement cs = open("{call helped.call(?)}"); // call helped.call(in int32 id)
        cs.setInt(1, id);
        cs.execute();
    }

    void decoys(Phone phone, java.util.logging.Logger log) throws SQLException {
        // conn.prepareCall("{call decoy.commented(?)}");
        log.info("{call decoy.logged(?)}");
        phone.prepareCall("{call decoy.other_class(?)}");
        String unused = "{call decoy.unused(?)}";
        conn.prepareStatement("SELECT call FROM calls WHERE exec = ?").setInt(1, 1);
    }

    static class Phone {
        void prepareCall(String number) {
        }
    }
}
