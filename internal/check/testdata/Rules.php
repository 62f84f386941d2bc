<?php
// A line that ends in "finds …" tells the rules that find something on it; the others find nothing.
function right(PDO $db, int $vessel, int $sailing): ?string
{
    $st = $db->prepare('{? = CALL berth.assign(?, ?, ?)}');
    $st->bindParam(1, $rc, PDO::PARAM_INT | PDO::PARAM_INPUT_OUTPUT, 4);
    $st->bindValue(2, $vessel, PDO::PARAM_INT);
    $st->bindValue(3, $sailing, PDO::PARAM_INT);
    $st->bindParam(4, $note, PDO::PARAM_STR | PDO::PARAM_INPUT_OUTPUT, 200);
    $st->execute();
    $db->prepare('EXEC deck.move ?, ?')->execute([1, 2]);
    return $rc === 0 ? $note : null;
}

function wrong(PDO $db, int $vessel): void
{
    $db->prepare('EXEC deck.move ?, ?')->execute([1]); // finds unset-placeholder
    $db->query("EXEC fare.release $vessel"); // finds value-in-call-text
    $st = $db->prepare('EXEC fare.quote ?, ?, ? OUTPUT');
    $st->bindValue(1, 7);
    $st->bindValue(2, '2000-01-01');
    $st->bindValue(3, 0); // finds out-not-received
    $st->execute();
}
