#!/bin/sh
# Write the example projects anew, as anyone would from the command line: sh tools/examples.sh [FOLDER]
set -e
out=${1:-examples}
mkdir -p "$out"
jadeite new table-piece --item "table moonflowers" --title "Moonflowers for the long table" \
    --width 280mm --set form=oval --set leaf-lines=veins --set petal-lines=middle \
    -o "$out/long-table.jadeite"
jadeite new branch --item branch --title "Branch of moonflowers for the gate" --width 290mm \
    --set buds=3 --set wire=along --set leaf-lines=veins -o "$out/gate-branch.jadeite"
jadeite new place-cards --item "place cards" --title "Place cards for the helpers" \
    --names examples/helpers.csv --set letters=script -o "$out/place-cards.jadeite"
jadeite new outline-pocket --item "right pocket" --title "Star-chart pockets in pairs" \
    --thing "star chart: flat 70x92x1mm" --set outline=mitten --copies 2 -o "$out/chart-pockets.jadeite"
jadeite add "$out/chart-pockets.jadeite" outline-pocket --item "left pocket" \
    --thing "star chart: flat 70x92x1mm" --set outline=mitten --set hand=left --copies 2
jadeite new wobble-card --item "owl card" --title "The owl astronomer nods" --face 105x148mm \
    -o "$out/owl-card.jadeite"
jadeite new tri-fold-holder --item "programme" --title "Programme with a ribbon" --face 83x95mm \
    --set seal=star -o "$out/programme.jadeite"
jadeite new stiffened-holder --item "ticket holder" --title "Holder for the night's tickets" \
    --thing "ticket: flat 74x105x1.5mm" --set window=star --set window-size=24mm \
    -o "$out/ticket-holder.jadeite"
jadeite new pop-up-card --item "hill card" --title "Hills that stand up" --face 148x105mm \
    --set count=3 --set kind=stage -o "$out/hill-card.jadeite"
jadeite new printed-figure --item "owl" --title "The owl astronomer on the desk" --width 90mm \
    --picture examples/owl.png --set stands=base --copies 2 -o "$out/owl-figure.jadeite"
jadeite new domed-box --title "Paper planet in a dome" --thing "paper planet: ball 90mm" \
    --set sides=6 -o "$out/planet-dome.jadeite"
jadeite new gathered-box --title "Sweets for the open night" --inside 80x60x70mm \
    --set ribbon=8mm --set seam=tongue -o "$out/gathered-sweets.jadeite"
jadeite new chest --title "Chest for the filters" --inside 120x80x50mm \
    --set stand-ups=3 -o "$out/filter-chest.jadeite"
jadeite new carton --title "Carton for a path lamp" --thing "path lamp: block 70x45x95mm" \
    --set bottom=lock -o "$out/lamp-carton.jadeite"
jadeite new lantern --title "Path lantern" --thing "path light: light" --inside 60x60x90mm \
    --folds perforated --window walls=leaves --lined -o "$out/path-lantern.jadeite"
jadeite new spire --title "Spire over a light" --thing "path light: light" --set spire-height=240mm \
    --set sides=5 --window walls=lattice --lined -o "$out/spire.jadeite"
jadeite new star --title "Star for the open night" --thing "string lights: light 40x25" \
    --window walls=plain -o "$out/star.jadeite"
jadeite new petal-lantern --title "Moonflower, petals one by one" --thing "path light: light" \
    --board petal-1=translucent --cutter middle -o "$out/moonflower-petals.jadeite"
jadeite new petal-lantern --title "Moonflower, whole rings" --thing "path light: light" \
    --board petal-1=translucent --set made-as=whole --cutter hand --sheet 610x610mm \
    -o "$out/moonflower-rings.jadeite"
jadeite new pyramid --title "Pyramid lantern with a ribbon" --thing "path light: light" \
    --window walls=moons --lined -o "$out/pyramid-lantern.jadeite"
jadeite new globe --title "Globe for the tables" --thing "path light: light" \
    --board gore=translucent -o "$out/globe.jadeite"
jadeite new tray-with-lid --title "Eyepiece box from a small cutter" --inside 80x60x30mm \
    --cutter small --split tray=back -o "$out/small-cutter-box.jadeite"
jadeite new folded-card --item card --title "Invitation to the open night" --face 105x148mm \
    --board card=heavy-card --board layer-1=glitter-card -o "$out/invitation.jadeite"
jadeite add "$out/invitation.jadeite" envelope --item envelope --around card --set liner=one
jadeite new layered-flower --item moonflower --title "Moonflowers for the tables" --width 120mm \
    --set "petals=5 4 4 3 3" --set leaf-fold=30 --copies 6 -o "$out/moonflower-tables.jadeite"
jadeite add "$out/moonflower-tables.jadeite" layered-flower --item "star moonflower" --width 152mm \
    --set "petals=6 6 6 6 6 6" --set sizes=step --set step=12.7mm --set outline=pointed \
    --set curl=fold --set leaf-fold=30
jadeite add "$out/moonflower-tables.jadeite" layered-flower --item "small moonflower" --width 70mm \
    --set "petals=5 4 3" --set outline=heart --copies 10
jadeite add "$out/moonflower-tables.jadeite" layered-flower --item "smallest moonflower" --width 50mm \
    --set "petals=5 4 3" --set base=none --copies 10
jadeite new rolled-flower --item "card roses" --title "Roses from a small cutter" --width 30mm \
    --board medium-card --set from=square --set square=108mm --cutter small \
    -o "$out/rolled-roses.jadeite"
jadeite add "$out/rolled-roses.jadeite" rolled-flower --item "light roses" --width 30mm \
    --board light-card --set from=square --set square=108mm --set edge=wavy
jadeite add "$out/rolled-roses.jadeite" rolled-flower --item "translucent roses" --width 30mm \
    --board strip=translucent --set from=square --set square=108mm --set edge=pointed
jadeite new fringed-flower --item "gate bloom" --title "Blooms for the gate" --width 110mm \
    --set middle=hole --set hole=2mm --copies 3 -o "$out/gate-blooms.jadeite"
jadeite add "$out/gate-blooms.jadeite" leaf-spray --item "gate leaves" --width 120mm \
    --set sides=two --set leaf-lines=veins --set wire=along --copies 2
jadeite new layered-flower --item "cup moonflower" --title "Moonflowers that open like a cup" --width 100mm \
    --set "petals=5 5 5 4 4" --set gather=laps --set rise=42 --set inner-rise=62 \
    --set centre-piece=strip --set pearl=6 --set leaf-size=110 --copies 4 -o "$out/cup-moonflowers.jadeite"
jadeite new layered-flower --item "knot bloom" --title "Blooms to tie to the wreath" --width 120mm \
    --set "petals=10 10 8 8 6" --set outline=lance --set base=none --set rise=20 \
    --set inner-rise=70 --set curl=inward --set centre-piece=knot --set pearl=9mm --set middle=cross \
    --copies 4 -o "$out/knot-blooms.jadeite"
jadeite new wreath --item "gate wreath" --title "Wreath for the gate" --width 360mm \
    --set flowers=40 --set seed=4 --set hang=cord -o "$out/gate-wreath.jadeite"
jadeite new layered-flower --item "card bloom" --title "A bloom on a card" --width 48mm \
    --set "petals=5 5 4" --set base=none --set curl=none --set rise=10 --set inner-rise=14 \
    --copies 4 -o "$out/bloom-card.jadeite"
jadeite add "$out/bloom-card.jadeite" folded-card --item card --around "card bloom" --face 105x148mm \
    --set foam=1 --copies 4
jadeite add "$out/bloom-card.jadeite" envelope --item envelope --around card --set closing=string --copies 4
rm -f "$out"/*.jadeite~
