<html><body title="CALL page.attribute(1)">
<?php
$pdo = new PDO($dsn);
const CLOSE = 'CALL tide.close(?, :no)';

class FakeDb { public function query($sql) { return []; } }

function desk(PDO $pdo, mysqli $m, int $id): array
{
    $stmt = $pdo->prepare('CALL tide.windows(:id, :from, @out)'); // call tide.windows(in int32 $id, in string "x", inout unknown @out) read
    $stmt->bindValue(':id', $id, PDO::PARAM_INT);
    $stmt->bindValue('from', "x");
    $stmt->execute();
    foreach ($stmt as $row) {
        error_log("CALL tide.logged($row)");
    }
    $out = $pdo->query('SELECT @out')->fetch();

    $sql = <<<SQL
        CALL tide.heredoc(?, 5)
        SQL;
    $pdo->prepare($sql)->execute([$id]);

    $s = $m->prepare("CALL tide.typed(?, ?)"); // call tide.typed(in int32 $id, in string $name)
    $s->bind_param('is', $id, $name);
    $s->execute();
    $m->query("CALL tide.joined($id)"); // call tide.joined(in unknown <$id>)
    (new FakeDb)->query('CALL tide.fake(1)');
    return $out;
}
if ($id): ?>
  <p>CALL page.text(2)</p>
<?php endif;
$c = sqlsrv_connect('x');
$r = sqlsrv_query($c, '{? = CALL fares.quote(?, ?)}', [[&$rc, SQLSRV_PARAM_OUT], 7, array(&$total, SQLSRV_PARAM_INOUT)]); // call fares.quote(return unknown, in int32 7, inout unknown $total) captured
$p = oci_parse($o, 'BEGIN harbour.book(:berth, :note); END;'); // call harbour.book(inout unknown $berth, inout string $note)
oci_bind_by_name($p, ':berth', $berth);
oci_bind_by_name($p, ':note', $note, 200, SQLT_CHR);
oci_execute($p);
/* $pdo->query('CALL tide.commented(1)'); */
