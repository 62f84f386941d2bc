package ferry.boarding;

import java.sql.CallableStatement;
import java.sql.Connection;
import java.sql.Date;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Types;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.List;

/** Berths, over the ticket desk's database. */
public class Berths {
    private static final int TAKEN = 41;
    private static final int NO_VESSEL = 40;
    private final Connection desk;

    public Berths(Connection desk) {
        this.desk = desk;
    }

    /** Right: the status first, every parameter in its place, the output registered and read. */
    public String assign(int vesselId, int sailingId) throws SQLException {
        try (CallableStatement cs = desk.prepareCall("{? = call berth.assign_berth(?, ?, ?)}")) {
            cs.registerOutParameter(1, Types.INTEGER);
            cs.setInt(2, vesselId);
            cs.setInt(3, sailingId);
            cs.registerOutParameter(4, Types.NVARCHAR);
            cs.execute();
            int status = cs.getInt(1);
            String note = cs.getString(4);
            if (status == NO_VESSEL) {
                throw new IllegalArgumentException(note);
            } else if (status == TAKEN) {
                throw new IllegalStateException(note);
            }
            return note;
        }
    }

    /** The output is given a value and never registered: the note stays empty. */
    public String assignQuietly(int vesselId, int sailingId) throws SQLException {
        try (CallableStatement cs = desk.prepareCall("{? = call berth.assign_berth(?, ?, ?)}")) {
            cs.registerOutParameter(1, Types.INTEGER);
            cs.setInt(2, vesselId);
            cs.setInt(3, sailingId);
            cs.setString(4, "");
            cs.execute();
            return cs.getInt(1) == 0 ? "" : cs.getString(4);
        }
    }

    /** Every index is one too low: the status has the first place. */
    public int assignShifted(int vesselId, int sailingId) throws SQLException {
        try (CallableStatement cs = desk.prepareCall("{? = call berth.assign_berth(?, ?, ?)}")) {
            cs.setInt(1, vesselId);
            cs.setInt(2, sailingId);
            cs.registerOutParameter(3, Types.NVARCHAR);
            cs.execute();
            return cs.getInt(1);
        }
    }

    /** Right: a counter for the indexes, the default left to the routine by naming what is given. */
    public boolean release(int assignmentId, String reason) throws SQLException {
        try (CallableStatement cs = desk.prepareCall(Sql.RELEASE)) {
            int i = 1;
            cs.registerOutParameter(i++, Types.INTEGER);
            cs.setInt(i++, assignmentId);
            if (reason == null) {
                cs.setNull(i++, Types.VARCHAR);
            } else {
                cs.setString(i++, reason);
            }
            cs.execute();
            return cs.getInt(1) == 0;
        }
    }

    /** Only one refusal has a branch, and it is not one that the routine hands back. */
    public void releaseLate(int assignmentId) throws SQLException {
        try (CallableStatement cs = desk.prepareCall("{? = call berth.release_berth(?)}")) {
            cs.registerOutParameter(1, Types.INTEGER);
            cs.setInt(2, assignmentId);
            cs.execute();
            int status = cs.getInt(1);
            if (status == 45) {
                throw new IllegalStateException("not assigned");
            }
        }
    }

    /** Right. */
    public List<Integer> list(LocalDate day) throws SQLException {
        List<Integer> numbers = new ArrayList<>();
        try (CallableStatement cs = desk.prepareCall("exec berth.list_berths @day = ?")) {
            cs.setDate(1, Date.valueOf(day));
            try (ResultSet rs = cs.executeQuery()) {
                while (rs.next()) {
                    numbers.add(rs.getInt("berth_no"));
                }
            }
        }
        return numbers;
    }

    /** The column was renamed. */
    public List<String> vessels() throws SQLException {
        List<String> names = new ArrayList<>();
        try (CallableStatement cs = desk.prepareCall("{call berth.list_berths}");
             ResultSet rs = cs.executeQuery()) {
            while (rs.next()) {
                names.add(rs.getString("vessel_name"));
            }
        }
        return names;
    }
}
