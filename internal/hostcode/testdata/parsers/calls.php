<?php
// Lists the calls with a text among their arguments by PHP's own tokenizer:
// "file<TAB>line<TAB>name<TAB>number of arguments". File names come on standard
// input; a file that PHP finds faults in is left out.
foreach (array_filter(explode("\n", stream_get_contents(STDIN))) as $file) {
    $text = file_get_contents($file);
    try {
        $all = PhpToken::tokenize($text, TOKEN_PARSE);
    } catch (Throwable) {
        continue;
    }
    echo "$file\t0\t\t0\n";
    $tokens = array_values(array_filter($all, fn ($t) => !$t->is([T_WHITESPACE, T_COMMENT, T_DOC_COMMENT])));
    foreach ($tokens as $i => $open) {
        $name = $tokens[$i - 1] ?? null;
        $before = $tokens[$i - 2] ?? null;
        if ($open->text !== '(' || !$name || !$name->is([T_STRING, T_NAME_QUALIFIED, T_NAME_FULLY_QUALIFIED])) {
            continue;
        }
        if ($before && ($before->is([T_FUNCTION, T_NEW, T_FN]) || $before->text === '&')) {
            continue;
        }
        if (preg_match('/^\\\\?(array|list|exit)$/i', $name->text) || insideAttribute($tokens, $i)) {
            continue;
        }
        $depth = 0;
        $count = 0;
        $texts = false;
        $first = $i + 1;
        for ($k = $i; $k < count($tokens); $k++) {
            $t = $tokens[$k]->text;
            if ($t === '(' || $t === '[' || $t === '{' || $tokens[$k]->is([T_CURLY_OPEN, T_DOLLAR_OPEN_CURLY_BRACES, T_ATTRIBUTE])) {
                $depth++;
            } elseif ($t === ')' || $t === ']' || $t === '}') {
                $depth--;
            }
            if ($depth === 0 || $depth === 1 && $t === ',') {
                if ($k > $first) {
                    $count++;
                    $texts = $texts || isText($tokens, $first, $k);
                }
                $first = $k + 1;
            }
            if ($depth === 0) {
                break;
            }
        }
        if ($texts) {
            $parts = explode('\\', $name->text);
            echo "$file\t{$name->line}\t" . end($parts) . "\t$count\n";
        }
    }
}

// Whether the tokens from $from up to $to are one literal.
function isText(array $tokens, int $from, int $to): bool
{
    if ($to - $from === 1) {
        return $tokens[$from]->is(T_CONSTANT_ENCAPSED_STRING);
    }
    return $tokens[$from]->text === '"' && $tokens[$to - 1]->text === '"'
        && count(array_filter(array_slice($tokens, $from, $to - $from), fn ($t) => $t->text === '"')) === 2
        || $tokens[$from]->is(T_START_HEREDOC) && $tokens[$to - 1]->is(T_END_HEREDOC);
}

// Whether a bracket stands in #[…].
function insideAttribute(array $tokens, int $i): bool
{
    $depth = 0;
    for ($k = $i; $k >= 0 && $i - $k < 200; $k--) {
        if ($tokens[$k]->text === ']') {
            $depth++;
        } elseif ($tokens[$k]->is(T_ATTRIBUTE)) {
            return $depth === 0;
        } elseif ($tokens[$k]->text === '[') {
            $depth--;
        } elseif ($tokens[$k]->text === ';') {
            return false;
        }
    }
    return false;
}
