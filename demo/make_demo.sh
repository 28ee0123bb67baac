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

# The birch proscenium: register holes, scribed swags, a lettered frieze with a flat floor, a stage opening, two lantern
# windows, slots for its feet with their corners relieved, tabs and clamps; the moon in its recess with an edge taken off,
# and the ferry that crosses the stage, held by a skin, lie beside it.
"$cli" new proscenium.ferro --force --machine mill-600 --material birch-ply --stock 600 400 12 --name "Ferryman's Lantern"
"$cli" edit proscenium.ferro stock spacer=3 \
  + path "M 40 34 H 104 V 58 H 116 V 34 H 324 V 58 H 336 V 34 H 400 V 330 C 330 376 110 376 40 330 Z" panel proscenium \
  + path "M 110 96 H 330 V 226 C 300 262 140 262 110 226 Z" panel "stage opening" \
  + path "M 64 252 A 16 16 0 0 1 96 252 V 288 A 16 16 0 0 1 64 288 Z" panel "lantern window" \
  + path "M 344 252 A 16 16 0 0 1 376 252 V 288 A 16 16 0 0 1 344 288 Z" panel "lantern window" \
  + circle 60 54 8 register + circle 380 54 8 register + circle 60 326 8 register + circle 380 326 8 register \
  + path "M 112 286 C 140 262 176 262 204 286 M 236 286 C 264 262 300 262 328 286" swags swag \
  + path "M 112 300 C 150 268 290 268 328 300 M 120 318 C 180 340 260 340 320 318" swags swag \
  + path "M 76 92 C 90 120 66 150 80 178 S 70 214 82 232 M 364 92 C 350 120 374 150 360 178 S 370 214 358 232" swags swag \
  + text "THE FERRY" 24 220 64 "face=sign bold" align=centre layer=frieze \
  + path "M 440 96 C 452 66 468 58 488 58 H 540 C 562 58 572 76 580 100 L 560 94 H 548 V 132 H 530 V 94 H 500 V 116 H 478 V 94 H 462 Z" ferry ferry \
  + circle 514 76 8 register + circle 490 76 8 register \
  + circle 510 250 96 moon + circle 510 250 72 recess \
  + shape star 496 258 496 274 corners=5 inner=0.5 layer=recess + shape star 526 238 526 249 corners=5 inner=0.5 layer=recess \
  + clamp 0 360 30 40 20 + clamp 570 360 30 40 20 + clamp 408 0 26 24 20 \
  + step drill "Register holes" drill-8 + set "Register holes" layers=register \
  + step scribe Swags engraver-30 + set Swags layers=swags depth=0.6 \
  + step clear "Floor of the letters" end-3 + set "Floor of the letters" layers=frieze depth=1.2 slant=30 entry=helix \
  + step groove Frieze v-60 + set Frieze layers=frieze depth=1.2 \
  + step clear "Moon's recess" end-3 + set "Moon's recess" layers=recess depth=3 entry=helix \
  + step bevel "Moon's edge" v-60 + set "Moon's edge" layers=moon width=1.5 \
  + step outline Openings end-6 + set Openings layers=panel,ferry,moon role=openings depthPerPass=3.1 \
  + step outline "Ferry, on a skin" end-6 + set "Ferry, on a skin" layers=ferry "role=outer edges" hold=skin depthPerPass=3.1 "note=The skin is cut by hand afterwards." \
  + step outline "Outer edges" end-6 + set "Outer edges" layers=panel,moon "role=outer edges" depthPerPass=3.1 relief=corner stop=yes "note=Look to the clamps before it goes round."
# The scenery as it was handed in: a hill in four bits that do not meet, a moon drawn twice, a bow that crosses itself,
# a crumb, a fold line on an edge. For the audit.
"$cli" new scenery.ferro --force --machine mill-600 --material birch-ply --stock 600 400 6 --name "Scenery, as handed in"
"$cli" edit scenery.ferro \
  path "M 40 40 L 240 40 M 240.1 40.2 L 240 180 M 240 180 C 200 220 80 220 40 180 M 40 179.8 L 40 40.1" scenery hill \
  + circle 300 90 60 scenery + circle 300 90 60 scenery + path "M 360 60 L 460 160 L 460 60 L 360 160 Z" scenery bow \
  + path "M 300 250 h 0.3 v 0.3 h -0.3 Z" scenery crumb + rectangle 520 300 100 60 scenery 6 \
  + path "M 60 260 L 160 260 L 160 330 L 60 330 Z" scenery "wing flat" + path "M 70 260 L 150 260" scenery "fold"


# The ferry scored by the centre lines of a pen drawing.
"$cli" new ferry.ferro --force --machine laser-700 --material black-card --stock 170 125 0.5 --name "Ferry, scored"
"$cli" edit ferry.ferro picture ferry-pen.png + place name:ferry-pen.png 10 10 \
  + trace name:ferry-pen.png find=strokes speck=0.2 layer=score + step scribe Score + set Score layers=score
# The poster parted into its colours, a layer each, lying under each other.
"$cli" new poster.ferro --force --machine laser-700 --material black-card --stock 140 180 0.5 --name "Poster, by colours"
"$cli" edit poster.ferro picture poster.png + place name:poster.png 10 10 \
  + trace name:poster.png find=colours under=on speck=0.5
# A sketch photographed with a shadow across it: evened out and straightened before it is traced.
"$cli" new lantern.ferro --force --machine laser-700 --material black-card --stock 130 100 0.5 --name "Lantern, from a photo"
"$cli" edit lantern.ferro picture lantern-photo.png + place name:lantern-photo.png 10 10 \
  + clean name:lantern-photo.png even-light=5 straighten=1.5 crop=4,4,104,76 + trace name:lantern-photo.png find=strokes layer=score
# The wave stencil: what is drawn falls out, bridges hold the moon's middle, the lanterns and the crests.
"$cli" new wave.ferro --force --machine laser-700 --material black-card --stock 297 210 0.5 --name "Wave stencil"
"$cli" edit wave.ferro \
  path "M 215 150 A 30 30 0 1 1 275 150 A 30 30 0 1 1 215 150 Z M 228 150 A 17 17 0 1 0 262 150 A 17 17 0 1 0 228 150 Z" plate moon \
  + path "M 40 110 L 60 78 H 170 L 190 110 Z M 70 90 a 7 7 0 1 0 14 0 a 7 7 0 1 0 -14 0 Z M 108 90 a 7 7 0 1 0 14 0 a 7 7 0 1 0 -14 0 Z M 146 90 a 7 7 0 1 0 14 0 a 7 7 0 1 0 -14 0 Z" plate ferry \
  + path "M 20 30 C 50 10 70 10 100 30 S 160 50 190 30 S 250 10 277 30 V 56 C 250 36 220 36 190 56 S 130 76 100 56 S 50 36 20 56 Z M 128 58 C 140 64 150 64 162 58 C 150 53 140 53 128 58 Z" plate waves \
  + bridge all width=2.5 + step outline Openings + set Openings layers=plate side=inside

# The same wave in three colours: a plate for each, with register pins, and a jig.
"$cli" new plates.ferro --force --machine laser-700 --material black-card --stock 400 260 0.5 --name "Wave in three colours"
"$cli" edit plates.ferro \
  path "M 20 30 C 50 10 70 10 100 30 S 160 50 190 30 S 250 10 277 30 V 56 C 250 36 220 36 190 56 S 130 76 100 56 S 50 36 20 56 Z" sea waves \
  + path "M 40 110 L 60 44 H 170 L 190 110 Z M 70 90 a 7 7 0 1 0 14 0 a 7 7 0 1 0 -14 0 Z M 108 90 a 7 7 0 1 0 14 0 a 7 7 0 1 0 -14 0 Z M 146 90 a 7 7 0 1 0 14 0 a 7 7 0 1 0 -14 0 Z" hull ferry \
  + path "M 215 120 A 26 26 0 1 1 267 120 A 26 26 0 1 1 215 120 Z M 226 120 A 15 15 0 1 0 256 120 A 15 15 0 1 0 226 120 Z" light moon \
  + move all 52 50 + layer-set sea colour=#1d4a5f + layer-set hull colour=#8c3b2a + layer-set light colour=#e0b84a \
  + plates islands=bridged width=2

# The scenery kit as a loose DXF, and taken in.
python3 draw_kit.py > scenery-kit.dxf
"$cli" new kit.ferro --force --machine mill-600 --material birch-ply --stock 600 400 6 --name "Scenery kit"
"$cli" edit kit.ferro drawing scenery-kit.dxf
# How this theatre cuts what comes from its draughtsman: the ways are taught in a job and kept, then the rules are made.
teach=$XDG_DATA_HOME/teach.ferro
"$cli" new "$teach" --machine mill-600 --material birch-ply --stock 600 400 6
"$cli" edit "$teach" step outline "Cut out" end-6 + step outline "Small, on a skin" end-3 \
  + set "Small, on a skin" hold=skin + step outline Slots end-3 + set Slots hold=none entry=ramp \
  + step scribe "Fold, half a millimetre" v-60 + set "Fold, half a millimetre" depth=0.5
for way in "Cut out" "Small, on a skin" Slots "Fold, half a millimetre"; do "$cli" book keep "$teach" "$way" "${way//,/}"; done
"$cli" book add rule "layers=notes*, guides"
"$cli" book add rule layers=fold "recipes=Fold half a millimetre"
"$cli" book add rule layers=slots recipes=Slots
"$cli" book add rule layers=cut "role=outer edges" below=60mm "recipes=Small on a skin"
"$cli" book add rule layers=cut "recipes=Cut out"
cp "$XDG_DATA_HOME/ferrograph/house.json" house.json
"$cli" edit kit.ferro rules

# Three owls on two boards: one drawn, two that follow it.
"$cli" new owls.ferro --force --machine mill-600 --material birch-ply --stock 300 260 6 --name "Owls of act two"
"$cli" edit owls.ferro drawing owl.svg 10 10 + rename 2 owl + rename 3 "left eye" + rename 4 "right eye" + rename 5 beak \
  + rename 7 feathers + rename 9,10 "rod hole" + part layer:cut quantity=3 turns=half thickness=6 \
  + sheet-name 1 "first board" + copies all 140 0 1 + sheet-add "second board" + stock width=300 height=200 \
  + sheet-at 1 + copies 2,3,4,5,7,9,10 0 120 1 + lay 2,3,4,5,7,9,10 "second board" \
  + step drill Pins end-3 + set Pins layers=holes + step scribe Feathers + set Feathers layers=score \
  + step outline Edges end-3 + set Edges layers=cut

# The tray that the seat tokens lie in: wells to a depth, one round a post, one in lines for the programmes.
"$cli" new tray.ferro --force --machine mill-600 --material birch-ply --stock 380 280 12 --name "Seat token tray"
"$cli" edit tray.ferro rectangle 20 20 340 240 panel 15 + rectangle 45 55 120 170 wells 8 \
  + shape circle 105 140 105 162 layer=wells + shape star 265 175 265 225 corners=5 inner=0.55 layer=wells \
  + rectangle 195 55 140 50 programmes 4 + shape circle 40 40 40 44 layer=pegs + shape circle 340 240 340 244 layer=pegs \
  + step clear Wells end-6 + set Wells layers=wells depth=6 \
  + step clear Programmes end-6 + set Programmes layers=programmes depth=3 by=lines angle=20 overlap=40 \
  + step clear Corners end-3 + set Corners layers=wells depth=6 what="what is left" \
  + step drill Pegs drill-8 + set Pegs layers=pegs + step outline Edge end-6 + set Edge layers=panel depthPerPass=3.1

# The sign over the stage door: letters in a V with a flat floor, a moon in its recess, an edge taken off, all cut out with
# a finish pass.
"$cli" new sign.ferro --force --machine mill-600 --material birch-ply --stock 420 180 18 --name "Sign over the stage door"
"$cli" edit sign.ferro shape rectangle 15 15 405 165 corner=14 layer=board \
  + text "STAGE DOOR" 40 210 92 face="sign bold" align=centre layer=letters \
  + shape circle 52 50 75 50 layer=moon + shape circle 60 56 74 56 layer=moon + shape line 90 44 380 44 layer=rule \
  + shape circle 36 144 40 144 layer=bolts + shape circle 384 144 388 144 layer=bolts \
  + step clear "Floor of the letters" end-3 + set "Floor of the letters" layers=letters depth=3 slant=30 entry=helix \
  + step groove Letters v-60 + set Letters layers=letters depth=3 \
  + step clear "Moon in its recess" end-3 + set "Moon in its recess" layers=moon depth=2 entry=helix \
  + step scribe Rule v-60 + set Rule layers=rule depth=1 + step drill "Bolt holes" end-6 + set "Bolt holes" layers=bolts \
  + step bevel "Edge of the board" v-60 + set "Edge of the board" layers=board width=2 \
  + step outline "Cut out" end-6 \
  + set "Cut out" layers=board finish=0.3 tabEnds=sloped depthPerPass=3.05 "note=Turn the vacuum up." stop=yes

# The stage's frame in slotted parts, its lamp rings of poplar: laid out on what lies on the shelf, what is left of the wall
# of act one first.
"$cli" book add board "Birch ply 800 × 500" material=birch-ply width=800 height=500 thickness=6 count=8 cost=14
"$cli" book add board "Poplar 500 × 300" material=poplar width=500 height=300 thickness=6 count=3 cost=9
wall=$XDG_DATA_HOME/wall.ferro
"$cli" new "$wall" --machine mill-1200 --material birch-ply --stock 800 500 6 --name "Wall of act one"
"$cli" edit "$wall" path "M 40 60 H 400 V 440 H 40 Z" wall wall + step outline "Cut out" end-6
"$cli" book rest "$wall"
"$cli" new stage.ferro --machine mill-1200 --material birch-ply --stock 800 500 6 --name "Stage frame" --force
"$cli" edit stage.ferro \
  path 'M 20 20 L 250 20 L 250 50 L 150 50 C 110 60 70 120 60 190 L 20 190 Z' wings wing + \
  path 'M 300 20 L 390 20 L 390 44 L 396.4 44 L 396.4 20 L 430 20 C 470 60 470 110 430 150 L 396.4 150 L 396.4 126 L 390 126 L 390 150 L 300 150 C 280 110 280 60 300 20 Z' feet foot + \
  path 'M 500 20 L 760 20 L 760 34 L 740 34 L 740 40.4 L 760 40.4 L 760 54 L 500 54 L 500 40.4 L 520 40.4 L 520 34 L 500 34 Z' rails rail + \
  path 'M 20 260 L 120 260 L 120 274 L 34 274 L 34 360 L 20 360 Z' corners corner + \
  circle 240 330 110 lamps + circle 240 330 62 lenses + \
  path 'M 360 260 C 420 300 480 220 540 260 C 600 300 660 220 720 260 L 720 310 C 660 270 600 350 540 310 C 480 270 420 350 360 310 Z' waves wave
"$cli" edit stage.ferro joints all 6 snug + part layer:wings quantity=6 turns=any mirror=on + part layer:feet quantity=6 turns=quarter + \
  part layer:rails quantity=7 turns=half + part layer:corners quantity=12 turns=quarter + part layer:waves quantity=5 turns=half + \
  part layer:lamps quantity=6 material=poplar + rename name:circle "lamp ring" + step outline "Cut out" end-6 + set "Cut out" relief=corner depthPerPass=3.2
"$cli" nest stage.ferro --effort 8

# The harbour banner: brush strokes traced by their middle lines and scribed as wide as their ink was.
"$cli" new banner.ferro --force --machine mill-600 --material poplar --stock 300 140 12 --name "Harbour banner"
"$cli" edit banner.ferro picture brush.png + place name:brush.png 30 18 + trace name:brush.png find=strokes layer=brush \
  + shape rectangle 15 12 285 128 corner=10 layer=board \
  + step scribe "Brush strokes" v-60 + set "Brush strokes" layers=brush deep="by ink's width" depth=5 \
  + step bevel "Edge of the board" v-60 + set "Edge of the board" layers=board width=1.5 \
  + step outline "Cut out" end-6 + set "Cut out" layers=board "note=Clamp the board at its tabs." stop=yes

# Slats for the fan: laid out a beam's width apart, so that one cut serves two of them.
"$cli" new slats.ferro --force --machine laser-700 --material poplar --stock 300 180 3 --name "Slats of the fan"
"$cli" edit slats.ferro path "M 10 10 H 24 V 130 H 10 Z" slats slat + circle 17 18 4 cord + path "M 17 60 V 120" fold fold \
  + part layer:slats quantity=16 + step scribe "Fold lines" + set "Fold lines" layers=fold \
  + step outline "Cord holes" + set "Cord holes" layers=cord side=inside \
  + step outline Slats + set Slats layers=slats shared="cut once"
"$cli" nest slats.ferro --effort 4

for job in heron proscenium owls tray sign stage banner slats; do "$cli" proof "$job.ferro"; done
# Seat tokens for the stalls: a crescent shaded on each, its number scribed as single lines, a hole for the cord, cut from poplar.
"$cli" new tokens.ferro --force --machine laser-700 --material poplar --stock 240 130 3 --name "Seat tokens"
"$cli" edit tokens.ferro circle 32 32 44 token token + circle 32 48 4 token cord \
  + path "M 24 36 A 11 11 0 1 0 40 25 A 9 9 0 1 1 24 36 Z" crescent crescent \
  + repeat all grid columns=4 rows=2 gap=10
numbers=()
for i in 1 2 3 4 5 6 7 8; do
  numbers+=(+ text "$i" 8 $((34 + (i - 1) % 4 * 54)) $((20 + (i - 1) / 4 * 54)) "face=single line" align=centre layer=seat)
done
"$cli" edit tokens.ferro "${numbers[@]:1}" \
  + step hatch Crescents + set Crescents layers=crescent edge=followed \
  + step scribe Numbers + set Numbers layers=seat \
  + step outline "Cord holes" + set "Cord holes" layers=token role=openings \
  + step outline Tokens + set Tokens layers=token "role=outer edges"

# Stickers for the travel case: kissed out of the film by a roll cutter, with a border and lines to weed by.
"$cli" new stickers.ferro --force --machine roll-610 --material film --stock 300 200 0.15 --name "Stickers for the case"
"$cli" edit stickers.ferro shape star 60 60 60 96 corners=7 inner=0.6 layer=stickers + circle 60 60 24 stickers \
  + circle 150 60 64 stickers + path "M 136 72 A 22 22 0 1 0 168 50 A 18 18 0 1 1 136 72 Z" stickers moon \
  + rectangle 205 30 70 60 stickers 8 + text "FERRY" 14 240 53 "face=sign bold" align=centre layer=stickers \
  + rectangle 30 120 240 56 stickers 10 + text "THIS SIDE UP" 22 150 137 "face=sign bold" align=centre layer=stickers \
  + path "M 30 112 L 270 112" crease "tear line" \
  + step slit Stickers + set Stickers layers=stickers "through=kiss cut" depth=0.1 "weeding=border and lines" pitch=30 \
  + step slit "Tear line" + set "Tear line" layers=crease dash=4 gap=1.5 force=120

# The lining of the lamp crate, from thick card by a knife that the machine turns: wells first, a fold half through, edges last.
"$cli" new crate.ferro --force --machine knife-1000 --material black-card --stock 600 400 5 --name "Lining of the lamp crate"
"$cli" edit crate.ferro shape rectangle 30 30 330 230 corner=18 layer=edge + shape star 120 130 120 180 corners=5 inner=0.5 layer=wells \
  + circle 240 130 80 wells + path "M 380 40 C 420 120 500 120 540 40 L 540 200 C 480 240 440 240 380 200 Z" edge flap + path "M 380 150 L 540 150" fold fold \
  + step slit Wells knife-turned + set Wells layers=wells \
  + step slit Fold knife-turned + set Fold layers=fold "through=kiss cut" depth=1.5 role=any \
  + step slit Edges knife-turned + set Edges layers=edge

# Badges: printed on film, found by their marks, cut by the knife.
"$cli" new badges.ferro --force --machine roll-610 --material film --stock 300 200 0.15 --name "Badges for the crew"
"$cli" edit badges.ferro picture heron-ink.png + size all 0 48 + place all 49 71 \
  + circle 67 95 70 badges + circle 150 95 70 badges + circle 233 95 70 badges \
  + path "M 136 107 A 22 22 0 1 0 168 85 A 18 18 0 1 1 136 107 Z" print moon + shape star 233 95 258 95 corners=9 inner=0.6 layer=print \
  + text "FERRY CREW" 9 150 38 "face=sign bold" align=centre layer=print + layer-set print colour=#1d4a5f notes=on \
  + step slit Badges + set Badges layers=badges "through=kiss cut" depth=0.1
"$cli" marks put badges.ferro

# The moon of the last act, burnt into poplar as it was drawn, in greys by power, and cut out round its edge.
python3 draw_moon.py moon.png
"$cli" new moon.ferro --force --machine laser-700 --material poplar --stock 120 100 3 --name "Moon of the last act"
"$cli" edit moon.ferro picture moon.png + place name:moon.png 30 20 + circle 60 84 4 cord "cord hole" \
  + shape circle 60 50 60 88 layer=rim + step tone Moon + set Moon least=2 white=2 power=14 gamma=1.3 \
  + step outline "Cord hole" + set "Cord hole" layers=cord + step outline Rim + set Rim layers=rim

# A swatch card for poplar: power upwards, speed to the right, for whatever scrap is 120 by 90.
"$cli" swatch swatches.ferro --force --machine laser-700 --material poplar --stock 120 90 3 --kind hatch \
  --rows power=8..40x6 --columns feed=1000..6000x6
