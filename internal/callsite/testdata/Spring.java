package ferry;

import java.util.*;
import java.sql.Types;
import org.springframework.jdbc.core.*;
import org.springframework.jdbc.core.namedparam.*;
import org.springframework.jdbc.core.simple.*;
import jakarta.persistence.*;

@Entity
@NamedStoredProcedureQuery(
    name = "Berth.assign",
    procedureName = "berth.assign_named", // call berth.assign_named(in int32 vessel_id id, out string note)
    parameters = {
        @StoredProcedureParameter(name = "vessel_id", mode = ParameterMode.IN, type = Integer.class),
        @StoredProcedureParameter(name = "note", mode = ParameterMode.OUT, type = String.class)
    })
class Berth {
}

class Quote extends org.springframework.jdbc.object.StoredProcedure {
    private static final String NAME = "fares.quote"; // call fares.quote(in int32 vessel_id id, out decimal total)

    Quote(javax.sql.DataSource ds) {
        super(ds, NAME);
        declareParameter(new SqlParameter("vessel_id", Types.INTEGER));
        declareParameter(new SqlOutParameter("total", Types.DECIMAL));
        compile();
    }

    Object quote(int id) {
        Map<String, Object> in = new HashMap<>();
        in.put("vessel_id", id);
        return execute(in).get("total");
    }
}

interface Tides {
    @Procedure("tide.close") // call tide.close(in int64 window, in string why) read
    void close(long window, String why);

    @Query("select t from Tide t where call = ?1")
    List<Berth> all(int n);
}

class Desk {
    private final JdbcTemplate jdbc;
    private final NamedParameterJdbcTemplate named;

    String simple(int id) {
        SimpleJdbcCall call = new SimpleJdbcCall(jdbc)
            .withSchemaName("berth")
            .withProcedureName("assign") // call berth.assign(in int32 vessel_id id, out string note)
            .withoutProcedureColumnMetaDataAccess()
            .declareParameters(new SqlParameter("vessel_id", Types.INTEGER), new SqlOutParameter("note", Types.NVARCHAR));
        Map<String, Object> out = call.execute(new MapSqlParameterSource().addValue("vessel_id", id));
        return (String) out.get("note");
    }

    void template(int id, String text) {
        jdbc.update("CALL deck.open(?, ?)", id, "x"); // call deck.open(in int32 id, in string "x")
        Integer n = jdbc.queryForObject("SELECT fares.count_for(?)", Integer.class, id); // call fares.count_for(in int32 id) read
        named.query("SELECT * FROM fares.list_for(:id, :text)", Map.of("id", id, "text", text), (rs, i) -> rs.getInt(1)); // call fares.list_for(in int32 id, in string text) read
        jdbc.queryForList("SELECT coalesce(max(x), 1) FROM t");
    }

    void persistence(EntityManager em, int id) {
        StoredProcedureQuery q = em.createStoredProcedureQuery("deck.weigh"); // call deck.weigh(in int32 id, out decimal)
        q.registerStoredProcedureParameter(1, Integer.class, ParameterMode.IN);
        q.registerStoredProcedureParameter(2, java.math.BigDecimal.class, ParameterMode.OUT);
        q.setParameter(1, id);
        q.execute();
        Object w = q.getOutputParameterValue(2);
        StoredProcedureQuery n = em.createNamedStoredProcedureQuery("Berth.assign");
        n.setParameter("vessel_id", id);
        n.execute();
    }
}
