# Sourced by ./check: official test suites that Debian has and the npm registry has not, unpacked beside the dependencies.
suites=node_modules/.cache/suites
if [ ! -d "$suites/json-schema" ]; then
  echo "Fetching the JSON Schema Test Suite (Debian's libtest-json-schema-acceptance-perl)…"
  mkdir -p "$suites"
  fetched=$(mktemp -d)
  (
    cd "$fetched"
    # Downloading and unpacking needs no rights; the list of packages may have to be brought up to date first.
    apt-get download -qq libtest-json-schema-acceptance-perl >/dev/null 2>&1 ||
      { ${sudo:-} apt-get update -qq; apt-get download -qq libtest-json-schema-acceptance-perl >/dev/null 2>&1; }
    dpkg -x ./*.deb unpacked
  )
  mv "$fetched/unpacked/usr/share/perl5/auto/share/dist/Test-JSON-Schema-Acceptance/tests/draft2020-12" "$suites/json-schema"
  rm -rf "$fetched"
fi
