package ferry.boarding;

/** The call texts that several classes share. */
final class Sql {
    static final String RELEASE = "{? = call berth.release_berth(?, ?)}";
    static final String LIST_SAILINGS = "{call list_sailings(?, ?)}";
    private static final String DECK = "{? = call deck.";
    static final String LOAD = DECK + "load_vehicle(?, ?, ?, ?)}";
    static final String MOVE = DECK + "move_vehicle(?, ?, ?)}";

    private Sql() {
    }
}
