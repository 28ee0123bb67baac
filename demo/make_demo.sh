#!/usr/bin/env bash
# Makes the demo jobs from our own drawings, by the command line alone: demo/make_demo.sh [BUILD]
set -euo pipefail
cd "$(dirname "${BASH_SOURCE[0]}")"
cli=$(realpath "../${1:-build/release}/bin/ferrograph-cli")
export XDG_DATA_HOME=$(mktemp -d) # the shipped shop book, not the maker's own
trap 'rm -rf "$XDG_DATA_HOME"' EXIT

# The puppet as it comes in: a photographed ink drawing on a sheet of card, not yet traced.
"$cli" new heron-trace.ferro --force --machine laser-700 --material black-card --stock 297 210 0.5 --name "Heron, as drawn"
"$cli" edit heron-trace.ferro picture heron-ink.png + place name:heron-ink.png 8 7

# The puppet cut from black card: fold lines scored, slits and eye first, the outer edge last.
cp heron-trace.ferro heron.ferro
"$cli" edit heron.ferro name Heron + trace name:heron-ink.png speck=0.4 follow=0.05 layer=heron \
  + path "M 62 110 L 98 110" fold "fold" \
  + path "M 182 36 H 271 A 8 8 0 0 1 271 52 H 182 A 8 8 0 0 1 182 36 Z" rod "rod sleeve" \
  + circle 190 44 5 rod + circle 263 44 5 rod + path "M 204 44 H 249" fold "fold" \
  + step scribe "Fold lines" + set "Fold lines" layers=fold \
  + step outline "Slits and eye" + set "Slits and eye" layers=heron,rod role=openings \
  + step outline "Outer edges" + set "Outer edges" layers=heron,rod "role=outer edges"

# The birch proscenium: register holes, scribed swags, a stage opening and two lantern windows, tabs and clamps; the
# ferry that crosses its stage lies beside it.
"$cli" new proscenium.ferro --force --machine mill-600 --material birch-ply --stock 600 400 12 --name "Ferryman's Lantern"
"$cli" edit proscenium.ferro stock spacer=3 \
  + path "M 40 34 H 400 V 330 C 330 376 110 376 40 330 Z" panel proscenium \
  + path "M 110 66 H 330 V 226 C 300 262 140 262 110 226 Z" panel "stage opening" \
  + path "M 64 252 A 16 16 0 0 1 96 252 V 288 A 16 16 0 0 1 64 288 Z" panel "lantern window" \
  + path "M 344 252 A 16 16 0 0 1 376 252 V 288 A 16 16 0 0 1 344 288 Z" panel "lantern window" \
  + circle 60 54 8 register + circle 380 54 8 register + circle 60 326 8 register + circle 380 326 8 register \
  + path "M 112 286 C 140 262 176 262 204 286 M 236 286 C 264 262 300 262 328 286" swags swag \
  + path "M 112 300 C 150 268 290 268 328 300 M 120 318 C 180 340 260 340 320 318" swags swag \
  + path "M 76 92 C 90 120 66 150 80 178 S 70 214 82 232 M 364 92 C 350 120 374 150 360 178 S 370 214 358 232" swags swag \
  + path "M 440 96 C 452 66 468 58 488 58 H 540 C 562 58 572 76 580 100 L 560 94 H 548 V 132 H 530 V 94 H 500 V 116 H 478 V 94 H 462 Z" ferry ferry \
  + circle 514 76 8 register + circle 490 76 8 register \
  + circle 510 250 96 moon + clamp 0 360 30 40 20 + clamp 570 360 30 40 20 + clamp 408 0 26 24 20 \
  + step drill "Register holes" drill-8 + set "Register holes" layers=register \
  + step scribe Swags engraver-30 + set Swags layers=swags depth=0.6 \
  + step outline Openings end-6 + set Openings layers=panel,ferry,moon role=openings \
  + step outline "Outer edges" end-6 + set "Outer edges" layers=panel,ferry,moon "role=outer edges"
# The scenery as it was handed in: a hill in four bits that do not meet, a moon drawn twice, a bow that crosses itself,
# a crumb, a fold line on an edge. For the audit.
"$cli" new scenery.ferro --force --machine mill-600 --material birch-ply --stock 600 400 6 --name "Scenery, as handed in"
"$cli" edit scenery.ferro \
  path "M 40 40 L 240 40 M 240.1 40.2 L 240 180 M 240 180 C 200 220 80 220 40 180 M 40 179.8 L 40 40.1" scenery hill \
  + circle 300 90 60 scenery + circle 300 90 60 scenery + path "M 360 60 L 460 160 L 460 60 L 360 160 Z" scenery bow \
  + path "M 300 250 h 0.3 v 0.3 h -0.3 Z" scenery crumb + rectangle 520 300 100 60 scenery 6 \
  + path "M 60 260 L 160 260 L 160 330 L 60 330 Z" scenery "wing flat" + path "M 70 260 L 150 260" scenery "fold"

for job in heron proscenium; do "$cli" proof "$job.ferro"; done
