package ferry;

import java.math.BigDecimal;
import java.sql.*;
import java.time.LocalDateTime;
import java.time.OffsetDateTime;
import java.util.Optional;
import java.util.UUID;

// A line that ends in "finds …" tells the rules that find something on it; the others find nothing.
class TypesOfValues {
    int right(Connection c, UUID key, OffsetDateTime seen) throws SQLException {
        try (CallableStatement cs = c.prepareCall("{? = call cargo.weigh(?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)}")) {
            cs.registerOutParameter(1, Types.INTEGER);
            cs.setSQLXML(2, c.createSQLXML());
            cs.setObject(3, key);
            cs.setObject(4, seen);
            cs.setTime(5, Time.valueOf("07:45:00"));
            cs.setBoolean(6, true);
            cs.setDouble(7, 12.5);
            cs.setNString(8, "tag");
            cs.registerOutParameter(9, Types.DECIMAL);
            cs.registerOutParameter(10, Types.TIMESTAMP);
            cs.registerOutParameter(11, Types.NVARCHAR);
            cs.registerOutParameter(12, Types.BIT);
            cs.registerOutParameter(13, Types.BIGINT);
            cs.execute();
            int rc = ((Number) cs.getObject(1)).intValue();
            if (rc == 3) throw new SQLException("full");
            BigDecimal kilos = (BigDecimal) cs.getObject(9);
            LocalDateTime stamp = cs.getTimestamp(10).toLocalDateTime();
            String label = Optional.ofNullable(cs.getString(11)).orElse("").trim();
            Boolean ok = (Boolean) cs.getObject(12);
            show(kilos, stamp, label, ok, String.valueOf(cs.getLong(13)));
            return (int) kilos.doubleValue();
        }
    }

    void text(Connection c) throws SQLException {
        CallableStatement cs = c.prepareCall("{? = call cargo.weigh(?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)}");
        cs.registerOutParameter(1, Types.INTEGER);
        cs.setString(2, "<m/>");
        cs.setString(3, "0f8fad5b-d9cb-469f-a165-70867728950e");
        cs.setString(4, "2026-05-04T07:45:00+01:00");
        cs.setString(5, "07:45");
        cs.setInt(6, 1);
        cs.setInt(7, 12);
        cs.setString(8, "tag");
        cs.registerOutParameter(9, Types.VARCHAR);
        cs.registerOutParameter(10, Types.VARCHAR);
        cs.registerOutParameter(11, Types.VARCHAR);
        cs.registerOutParameter(12, Types.TINYINT);
        cs.registerOutParameter(13, Types.DECIMAL);
        cs.execute();
        if (Integer.parseInt(cs.getString(1)) == 4) return; // finds status-never-returned
        show(cs.getString(9), cs.getString(10), cs.getString(11), cs.getInt(12), cs.getBigDecimal(13));
    }

    void wrong(Connection c, byte[] photo, Date day) throws SQLException {
        CallableStatement cs = c.prepareCall("{? = call cargo.weigh(?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)}");
        cs.registerOutParameter(1, Types.INTEGER);
        cs.setInt(2, 7); // the server makes text of it
        cs.setInt(3, 7); // finds type-mismatch
        cs.setInt(4, 7); // finds type-mismatch
        cs.setDate(5, day); // finds type-mismatch
        cs.setDate(6, day); // finds type-mismatch
        cs.setBytes(7, photo);
        cs.setBytes(8, photo);
        cs.registerOutParameter(9, Types.TIMESTAMP); // finds type-mismatch
        cs.registerOutParameter(10, Types.INTEGER); // finds type-mismatch
        cs.registerOutParameter(11, Types.INTEGER); // finds type-mismatch
        cs.registerOutParameter(12, Types.DATE); // finds type-mismatch
        cs.registerOutParameter(13, Types.VARBINARY); // finds type-mismatch
        cs.execute();
        show(cs.getInt(1), cs.getTimestamp(9), cs.getInt(10), cs.getInt(11), cs.getDate(12), cs.getBytes(13));
    }

    // A constant may stand before the code that it is compared with.
    void constantFirst(Connection c) throws SQLException {
        CallableStatement a = c.prepareCall("{? = call berth.assign(?, ?)}");
        a.registerOutParameter(1, Types.INTEGER);
        a.setInt(2, 1);
        a.setInt(3, 2);
        a.execute();
        if (0 != a.getInt(1)) throw new SQLException("not assigned");
        CallableStatement b = c.prepareCall("{? = call berth.assign(?, ?)}");
        b.registerOutParameter(1, Types.INTEGER);
        b.setInt(2, 1);
        b.setInt(3, 2);
        b.execute();
        int rc = b.getInt(1);
        if (40 <= rc) throw new SQLException("refused");
        CallableStatement d = c.prepareCall("{? = call berth.assign(?, ?)}");
        d.registerOutParameter(1, Types.INTEGER);
        d.setInt(2, 1);
        d.setInt(3, 2);
        d.execute();
        final int code = d.getInt(1);
        if (44 == code) throw new SQLException("taken"); // finds status-never-returned
        if (code > 0) throw new SQLException("refused");
    }
}
