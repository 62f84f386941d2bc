import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;

/** Runs the statements of a file in a database in memory, and prints what its information schema says of routines. */
public class Rows {
  public static void main(String[] args) throws Exception {
    try (Connection c = DriverManager.getConnection("jdbc:hsqldb:mem:boat", "SA", "");
        Statement s = c.createStatement()) {
      String text = Files.readString(Path.of(args[0]));
      int n = 0;
      for (String statement : text.split("\u0001")) {
        n++;
        if (statement.isBlank()) {
          continue;
        }
        try {
          s.execute(statement);
        } catch (SQLException e) {
          System.out.println("REFUSED\t" + n + "\t" + e.getMessage().replace('\n', ' '));
        }
      }
      print(s, "R", "SELECT SPECIFIC_NAME, ROUTINE_SCHEMA, ROUTINE_NAME, ROUTINE_TYPE, DATA_TYPE, CHARACTER_MAXIMUM_LENGTH, NUMERIC_PRECISION, NUMERIC_SCALE,"
          + " EXTERNAL_LANGUAGE, ROUTINE_BODY, MAX_DYNAMIC_RESULT_SETS FROM INFORMATION_SCHEMA.ROUTINES WHERE ROUTINE_SCHEMA <> 'INFORMATION_SCHEMA'"
          + " AND ROUTINE_SCHEMA <> 'SYSTEM_LOBS' ORDER BY SPECIFIC_NAME");
      print(s, "P", "SELECT SPECIFIC_NAME, ORDINAL_POSITION, PARAMETER_MODE, PARAMETER_NAME, DATA_TYPE, CHARACTER_MAXIMUM_LENGTH, NUMERIC_PRECISION,"
          + " NUMERIC_SCALE, SPECIFIC_SCHEMA FROM INFORMATION_SCHEMA.PARAMETERS WHERE SPECIFIC_SCHEMA <> 'SYSTEM_LOBS' ORDER BY SPECIFIC_NAME, ORDINAL_POSITION");
    }
  }

  private static void print(Statement s, String kind, String query) throws SQLException {
    try (ResultSet r = s.executeQuery(query)) {
      int n = r.getMetaData().getColumnCount();
      while (r.next()) {
        StringBuilder b = new StringBuilder(kind);
        for (int i = 1; i <= n; i++) {
          String v = r.getString(i);
          b.append('\t').append(v == null ? "" : v);
        }
        System.out.println(b);
      }
    }
  }
}
