package ferry.boarding;

import java.math.BigDecimal;
import java.sql.CallableStatement;
import java.sql.Connection;
import java.sql.Date;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Timestamp;
import java.sql.Types;
import java.util.ArrayList;
import java.util.List;

/** The timetable's database. */
public class Timetable {
    private final Connection timetable;

    public Timetable(Connection timetable) {
        this.timetable = timetable;
    }

    /** Right. */
    public List<Integer> sailings(Date day, String route) throws SQLException {
        List<Integer> ids = new ArrayList<>();
        try (CallableStatement cs = timetable.prepareCall(Sql.LIST_SAILINGS)) {
            bindDayAndRoute(cs, day, route);
            try (ResultSet rs = cs.executeQuery()) {
                while (rs.next()) {
                    ids.add(rs.getInt("sailing_id"));
                }
            }
        }
        return ids;
    }

    private static void bindDayAndRoute(CallableStatement cs, Date day, String route) throws SQLException {
        cs.setDate(1, day);
        cs.setString(2, route);
    }

    /** Right: outputs by name. */
    public Timestamp nextTide(String port, Timestamp after) throws SQLException {
        try (CallableStatement cs = timetable.prepareCall("{call next_tide(?, ?, ?, ?)}")) {
            cs.setString("p_port", port);
            cs.setTimestamp("p_after", after);
            cs.registerOutParameter("p_high", Types.TIMESTAMP);
            cs.registerOutParameter("p_height_cm", Types.SMALLINT);
            cs.execute();
            return cs.getInt("p_height_cm") < 180 ? null : cs.getTimestamp("p_high");
        }
    }

    /** The new minutes are never asked for. */
    public void shift(int sailingId, int minutes) throws SQLException {
        try (CallableStatement cs = timetable.prepareCall("{call shift_sailing(?, ?)}")) {
            cs.setInt(1, sailingId);
            cs.setInt(2, minutes);
            cs.execute();
        }
    }

    /** Right: a value and a registration. */
    public int shiftAndTell(int sailingId, int minutes) throws SQLException {
        try (CallableStatement cs = timetable.prepareCall("{call shift_sailing(?, ?)}")) {
            cs.setInt(1, sailingId);
            cs.setInt(2, minutes);
            cs.registerOutParameter(2, Types.INTEGER);
            cs.execute();
            return cs.getInt(2);
        }
    }

    /** A MySQL procedure has no status code. */
    public int cancel(int sailingId) throws SQLException {
        try (CallableStatement cs = timetable.prepareCall("{? = call cancel_sailing(?, ?, ?)}")) {
            cs.registerOutParameter(1, Types.INTEGER);
            cs.setInt(2, sailingId);
            cs.setString(3, "weather");
            cs.registerOutParameter(4, Types.INTEGER);
            cs.execute();
            return cs.getInt(4);
        }
    }

    /** A function is called as if it were a procedure. */
    public void dues(BigDecimal length, int nights) throws SQLException {
        try (CallableStatement cs = timetable.prepareCall("{call harbour_dues(?, ?)}")) {
            cs.setBigDecimal(1, length);
            cs.setInt(2, nights);
            cs.execute();
        }
    }

    /** Right. */
    public BigDecimal duesFor(BigDecimal length, int nights) throws SQLException {
        try (CallableStatement cs = timetable.prepareCall("{? = call harbour_dues(?, ?)}")) {
            cs.registerOutParameter(1, Types.DECIMAL);
            cs.setBigDecimal(2, length);
            cs.setInt(3, nights);
            cs.execute();
            return cs.getBigDecimal(1);
        }
    }

    /** What became of it is asked for and never read. */
    public void roster(int sailingId, int crewId, String role) throws SQLException {
        try (CallableStatement cs = timetable.prepareCall("CALL roster_crew(?, ?, ?, ?)")) {
            cs.setInt(1, sailingId);
            cs.setInt(2, crewId);
            cs.setString(3, role);
            cs.registerOutParameter(4, Types.VARCHAR);
            cs.execute();
        }
    }
}
