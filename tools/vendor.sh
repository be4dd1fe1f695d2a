#!/bin/sh
# Copies the front-end files named in package.json, with their licences, to where the application serves them.
set -eu
cd "$(dirname "$0")/.."
static=aestiva/frame/static/vendor
cp node_modules/bootstrap/dist/css/bootstrap.min.css node_modules/bootstrap/LICENSE "$static/bootstrap/"
sed -i 's#/\*\# sourceMappingURL=.*\*/##' "$static/bootstrap/bootstrap.min.css"
for font in atkinson-hyperlegible-next literata; do
  cp "node_modules/@fontsource-variable/$font/LICENSE" "$static/fonts/$font-LICENSE"
  for part in latin latin-ext; do
    cp "node_modules/@fontsource-variable/$font/files/$font-$part-wght-normal.woff2" "$static/fonts/"
  done
done
cp node_modules/axe-core/axe.min.js e2e/vendor/
cp node_modules/axe-core/LICENSE e2e/vendor/axe-LICENSE
mkdir -p "$static/echarts"
npx esbuild tools/vendor/charts.mjs --bundle --minify --format=esm --legal-comments=none --outfile="$static/echarts/echarts.mjs"
cp node_modules/echarts/LICENSE node_modules/echarts/NOTICE "$static/echarts/"
