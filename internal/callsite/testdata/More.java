package x;

// A line that ends in "call …" tells which call is placed on it; lines without one have none.
import static java.sql.Types.*;
import java.sql.*;
enum Proc { ASSIGN("{call e.assign(?)}"); final String sql; Proc(String s) { sql = s; } }
interface Names { String P = "{call i.face(?)}"; int A = 1; } // call i.face(in int64 id)
class More implements Names {
  private CallableStatement lazy;
  DataSource ds;
  void a(long id, boolean flag) throws Exception {
    try (var c = ds.getConnection(); var cs = c.prepareCall(Names.P, ResultSet.TYPE_FORWARD_ONLY, ResultSet.CONCUR_READ_ONLY)) {
      cs.setLong(Names.A, id); cs.execute();
    }
    if (lazy == null) lazy = ds.getConnection().prepareCall("{call lazy.one(?, ?)}"); // call lazy.one(in int64 id, out decimal) read
    lazy.setLong(A, id);
    lazy.registerOutParameter(2, NUMERIC);
    boolean more = lazy.execute();
    while (more) { try (ResultSet rs = lazy.getResultSet()) { while (rs.next()) System.out.println(rs.getInt("x")); } more = lazy.getMoreResults(); }
    System.out.println(lazy.getBigDecimal(2));
    String sql = "{call grown(?"; // call grown(in int64 id, in int64 id)
    if (flag) sql += ", ?";
    sql += ")}";
    CallableStatement g = ds.getConnection().prepareCall(sql);
    g.setLong(1, id);
    if (flag) g.setLong(2, id);
    g.execute();
    StringBuilder dotted = new StringBuilder("{call ").append("by").append('.');
    CallableStatement d = con().prepareCall(dotted.append("letters(" + '?' + ", N").append('\'').append('"').append('\'').append(")}").toString()); // call by.letters(in int64 id, in string N'"')
    d.setLong(1, id);
    d.execute();
    jdbcTemplate.update("EXEC p ?", id); // call p(in int64 id)
    new Thread(() -> { try { CallableStatement t = con().prepareCall("{call in.lambda(?)}"); t.setString(1, "x"); t.execute(); } catch (SQLException e) {} }).start(); // call in.lambda(in string "x")
    CallableStatement e = con().prepareCall(Proc.ASSIGN.sql); // call ?
    int rc = call(con(), "{? = call wrap.per(?)}", 5); // call wrap.per(return int32, in int32 5) captured
    if (rc == 7) return;
  }
  Connection con() { return null; }
  int call(Connection c, String sql, Object... args) throws SQLException {
    try (CallableStatement cs = c.prepareCall(sql)) {
      cs.registerOutParameter(1, INTEGER);
      int i = 2;
      for (Object a : args) cs.setObject(i++, a);
      cs.execute();
      return cs.getInt(1);
    }
  }
}
