#!/usr/bin/env bash
# Lists lines of code of more than 110 letters. Documents and scripts that are quoted in tests
# may be longer: they are read as one.
set -euo pipefail
cd "$(dirname "$(readlink -f "$0")")/.."
long=$(git ls-files '*.go' '*.ts' '*.vue' | grep -v -e '\.gen\.' | xargs perl -CSD -ne '
  my $ticks = tr/`//; chomp;
  my $quotes = $ARGV =~ m{(_test\.go|^e2e/.*\.go)$} && ($quoted || $ticks);
  print "$ARGV:$.: ", length, "\n" if length > 110 && !$quotes;
  $quoted = !$quoted if $ticks % 2;
  if (eof) { close ARGV; $quoted = 0 }')
if [ -n "$long" ]; then
  echo "$long" >&2
  echo "axtren: break the lines above, so that they have at most 110 letters" >&2
  exit 1
fi
