package ferry.boarding;

import java.sql.CallableStatement;
import java.sql.Connection;
import java.sql.SQLException;
import java.sql.Types;

/** Vehicles and their decks. */
public class Decks {
    private final Connection desk;

    public Decks(Connection desk) {
        this.desk = desk;
    }

    /** The routine was replaced by one that wants the height too; this caller stayed behind. */
    public int load(int sailingId, String registration, int lengthCm) throws SQLException {
        try (CallableStatement cs = desk.prepareCall(Sql.LOAD)) {
            cs.registerOutParameter(1, Types.INTEGER);
            cs.setInt(2, sailingId);
            cs.setString(3, registration);
            cs.setInt(4, lengthCm);
            cs.registerOutParameter(5, Types.TINYINT);
            cs.execute();
            return cs.getInt(1) == 0 ? cs.getInt(5) : -1;
        }
    }

    /** Right: the new signature, by name. */
    public int loadHigh(int sailingId, String registration, int lengthCm, int heightCm) throws SQLException {
        try (CallableStatement cs = desk.prepareCall("{? = call deck.load_vehicle(@sailing_id = ?, @registration = ?, "
                + "@length_cm = ?, @height_cm = ?, @deck = ?)}")) {
            cs.registerOutParameter(1, Types.INTEGER);
            cs.setInt(2, sailingId);
            cs.setNString(3, registration);
            cs.setInt(4, lengthCm);
            cs.setInt(5, heightCm);
            cs.registerOutParameter(6, Types.TINYINT);
            cs.execute();
            if (cs.getInt(1) != 0) {
                throw new IllegalStateException("no deck has room");
            }
            return cs.getInt(6);
        }
    }

    /** The two decks change places: both are numbers, so nobody complains. */
    public boolean move(String registration, int fromDeck, int toDeck) throws SQLException {
        try (CallableStatement cs = desk.prepareCall(Sql.MOVE)) {
            cs.registerOutParameter(1, Types.INTEGER);
            cs.setString(2, registration);
            cs.setInt(3, toDeck);
            cs.setInt(4, fromDeck);
            cs.execute();
            return cs.getInt(1) == 0;
        }
    }

    /** A placeholder is forgotten. */
    public void moveUp(String registration, int fromDeck) throws SQLException {
        try (CallableStatement cs = desk.prepareCall("{? = call deck.move_vehicle(?, ?, ?)}")) {
            cs.registerOutParameter(1, Types.INTEGER);
            cs.setString(2, registration);
            cs.setInt(3, fromDeck);
            cs.execute();
            if (cs.getInt(1) != 0) {
                throw new IllegalStateException("it is not on that deck");
            }
        }
    }
}
