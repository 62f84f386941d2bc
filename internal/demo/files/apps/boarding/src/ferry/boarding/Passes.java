package ferry.boarding;

import java.math.BigDecimal;
import java.sql.CallableStatement;
import java.sql.Connection;
import java.sql.Date;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.sql.Timestamp;
import java.sql.Types;

/** Boarding passes and fares. */
public class Passes {
    private final Connection desk;
    private final System.Logger log = System.getLogger("passes");

    public Passes(Connection desk) {
        this.desk = desk;
    }

    /** Right: a branch for every refusal. */
    public String issue(int sailingId, String passenger, Date born) throws SQLException {
        try (CallableStatement cs = desk.prepareCall("{? = call pass.issue_pass(?, ?, ?, ?, ?)}")) {
            cs.registerOutParameter(1, Types.INTEGER);
            cs.setInt(2, sailingId);
            cs.setNString(3, passenger);
            cs.setDate(4, born);
            cs.registerOutParameter(5, Types.VARCHAR);
            cs.registerOutParameter(6, Types.DECIMAL, 2);
            cs.execute();
            BigDecimal fare = cs.getBigDecimal(6);
            switch (cs.getInt(1)) {
                case 0:
                    return cs.getString(5) + " " + fare;
                case 50:
                    throw new IllegalStateException("the sailing is full");
                case 51:
                    throw new IllegalStateException("the sailing has left");
                default:
                    throw new IllegalStateException("the fare is not paid");
            }
        }
    }

    /** Nobody looks at the status, so a full sailing looks like a pass without a number. */
    public String issueFast(int sailingId, String passenger) throws SQLException {
        try (CallableStatement cs = desk.prepareCall("{call pass.issue_pass(?, ?, ?, ?, ?)}")) {
            cs.setInt(1, sailingId);
            cs.setString(2, passenger);
            cs.setNull(3, Types.DATE);
            cs.registerOutParameter(4, Types.VARCHAR);
            cs.registerOutParameter(5, Types.DECIMAL);
            cs.execute();
            log.log(System.Logger.Level.INFO, "{call pass.issue_pass} took fare " + cs.getBigDecimal(5));
            return cs.getString(4);
        }
    }

    /** Two refusals fall to no branch. */
    public void tellWhy(int sailingId, String passenger) throws SQLException {
        try (CallableStatement cs = desk.prepareCall("{? = call pass.issue_pass(?, ?, ?, ?, ?)}")) {
            cs.registerOutParameter(1, Types.INTEGER);
            cs.setInt(2, sailingId);
            cs.setString(3, passenger);
            cs.setNull(4, Types.DATE);
            cs.registerOutParameter(5, Types.VARCHAR);
            cs.registerOutParameter(6, Types.DECIMAL);
            cs.execute();
            String code = cs.getString(5);
            BigDecimal fare = cs.getBigDecimal(6);
            int status = cs.getInt(1);
            switch (status) {
                case 0:
                    print(code + " for " + fare);
                    break;
                case 50:
                    print("full");
                    break;
            }
        }
    }

    /** The fare is read before the call runs. */
    public BigDecimal quote(int sailingId) throws SQLException {
        try (CallableStatement cs = desk.prepareCall("{call fare.quote_fare(?, ?, ?, ?)}")) {
            cs.setInt(1, sailingId);
            cs.setNull(2, Types.DATE);
            cs.setString(3, "EUR");
            cs.registerOutParameter(4, Types.DECIMAL);
            BigDecimal fare = cs.getBigDecimal(4);
            cs.execute();
            return fare;
        }
    }

    /** The routine has had another name since the spring. */
    public BigDecimal quoteOld(int sailingId) throws SQLException {
        try (CallableStatement cs = desk.prepareCall("{call fare.quote_fares(?, ?)}")) {
            cs.setInt(1, sailingId);
            cs.registerOutParameter(2, Types.DECIMAL);
            cs.execute();
            return cs.getBigDecimal(2);
        }
    }

    /** Right: the rows first, then the output. */
    public Timestamp checkIn(String passCode) throws SQLException {
        try (CallableStatement cs = desk.prepareCall("""
                {? = call pass.check_in(?, ?)}
                """)) {
            cs.registerOutParameter(1, Types.INTEGER);
            cs.setString(2, passCode);
            cs.registerOutParameter(3, Types.TIMESTAMP);
            if (cs.execute()) {
                try (ResultSet rs = cs.getResultSet()) {
                    while (rs.next()) {
                        print(rs.getString("passenger"));
                    }
                }
            }
            return cs.getInt(1) == 0 ? cs.getTimestamp(3) : null;
        }
    }

    /** The number is joined into the text. */
    public void freeBerth(int assignmentId) throws SQLException {
        try (Statement st = desk.createStatement()) {
            st.execute("EXEC berth.release_berth @assignment_id = " + assignmentId + ", @reason = 'storm'"); // ramekin: allow status-ignored -- the storm plan frees twice
        }
    }

    /** Right, but which routine it is only shows when it runs. */
    public void nightly(String step) throws SQLException {
        try (CallableStatement cs = desk.prepareCall("{call night." + step + "}")) {
            cs.execute();
        }
    }

    private static void print(String text) {
        System.out.println(text);
    }
}
