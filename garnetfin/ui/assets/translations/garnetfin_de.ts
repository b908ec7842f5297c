<?xml version="1.0" encoding="utf-8"?>
<!DOCTYPE TS>
<TS version="2.1" language="de_DE" sourcelanguage="en_GB">
<context>
    <name>garnetfin</name>
    <message>
        <source>Project</source>
        <translation>Projekt</translation>
    </message>
    <message>
        <source>Edit</source>
        <translation>Bearbeiten</translation>
    </message>
    <message>
        <source>Insert</source>
        <translation>Einfügen</translation>
    </message>
    <message>
        <source>Rooms</source>
        <translation>Räume</translation>
    </message>
    <message>
        <source>rooms</source>
        <translation>Räume</translation>
    </message>
    <message>
        <source>Ducts</source>
        <translation>Kanäle</translation>
    </message>
    <message>
        <source>ducts</source>
        <translation>Kanäle</translation>
    </message>
    <message>
        <source>View</source>
        <translation>Ansicht</translation>
    </message>
    <message>
        <source>Marks</source>
        <translation>Marken</translation>
    </message>
    <message>
        <source>Office book</source>
        <translation>Bürobuch</translation>
    </message>
    <message>
        <source>office book</source>
        <translation>Bürobuch</translation>
    </message>
    <message>
        <source>Papers</source>
        <translation>Unterlagen</translation>
    </message>
    <message>
        <source>Help</source>
        <translation>Hilfe</translation>
    </message>
    <message>
        <source>New</source>
        <translation>Neu</translation>
    </message>
    <message>
        <source>Open …</source>
        <translation>Öffnen …</translation>
    </message>
    <message>
        <source>Open the example</source>
        <translation>Beispiel öffnen</translation>
    </message>
    <message>
        <source>Open recent</source>
        <translation>Zuletzt geöffnet</translation>
    </message>
    <message>
        <source>Save</source>
        <translation>Sichern</translation>
    </message>
    <message>
        <source>Save as …</source>
        <translation>Sichern als …</translation>
    </message>
    <message>
        <source>Write rooms as CSV …</source>
        <translation>Räume als CSV schreiben …</translation>
    </message>
    <message>
        <source>Write faces as CSV …</source>
        <translation>Flächen als CSV schreiben …</translation>
    </message>
    <message>
        <source>Write the lifted levels as PDF …</source>
        <translation>Abgehobene Geschosse als PDF schreiben …</translation>
    </message>
    <message>
        <source>Quit</source>
        <translation>Beenden</translation>
    </message>
    <message>
        <source>Undo</source>
        <translation>Rückgängig</translation>
    </message>
    <message>
        <source>Redo</source>
        <translation>Wiederholen</translation>
    </message>
    <message>
        <source>Copy the plan or page</source>
        <translation>Plan oder Seite kopieren</translation>
    </message>
    <message>
        <source>Clear out what is unused</source>
        <translation>Unbenutztes ausräumen</translation>
    </message>
    <message>
        <source>Select all rooms of the level</source>
        <translation>Alle Räume des Geschosses wählen</translation>
    </message>
    <message>
        <source>Select nothing</source>
        <translation>Nichts wählen</translation>
    </message>
    <message>
        <source>Settings …</source>
        <translation>Einstellungen …</translation>
    </message>
    <message>
        <source>Remove selected ducts</source>
        <translation>Gewählte Kanäle entfernen</translation>
    </message>
    <message>
        <source>Room list …</source>
        <translation>Raumliste …</translation>
    </message>
    <message>
        <source>Building from gbXML or IFC …</source>
        <translation>Gebäude aus gbXML oder IFC …</translation>
    </message>
    <message>
        <source>Drawing, picture or PDF page below the plan …</source>
        <translation>Zeichnung, Bild oder PDF-Seite unter den Plan …</translation>
    </message>
    <message>
        <source>Weather file …</source>
        <translation>Wetterdatei …</translation>
    </message>
    <message>
        <source>Weather file</source>
        <translation>Wetterdatei</translation>
    </message>
    <message>
        <source>Level on top</source>
        <translation>Geschoss obenauf</translation>
    </message>
    <message>
        <source>Level below the lowest</source>
        <translation>Geschoss unter dem untersten</translation>
    </message>
    <message>
        <source>Zone of the selected rooms</source>
        <translation>Zone aus den gewählten Räumen</translation>
    </message>
    <message>
        <source>Air system, serving the selected rooms</source>
        <translation>Luftanlage für die gewählten Räume</translation>
    </message>
    <message>
        <source>Fabric set of what the building mostly has</source>
        <translation>Bauteilsatz aus dem, was meist vorkommt</translation>
    </message>
    <message>
        <source>Block beside that casts shadows</source>
        <translation>Nachbarkörper, der Schatten wirft</translation>
    </message>
    <message>
        <source>Window in the widest gap of the room</source>
        <translation>Fenster in die breiteste Lücke des Raums</translation>
    </message>
    <message>
        <source>Move by …</source>
        <translation>Verschieben um …</translation>
    </message>
    <message>
        <source>Width and depth …</source>
        <translation>Breite und Tiefe …</translation>
    </message>
    <message>
        <source>Copy in a row …</source>
        <translation>In Reihe kopieren …</translation>
    </message>
    <message>
        <source>Copy to another level …</source>
        <translation>In ein anderes Geschoss kopieren …</translation>
    </message>
    <message>
        <source>Copy all rooms of the level …</source>
        <translation>Alle Räume des Geschosses kopieren …</translation>
    </message>
    <message>
        <source>Mirror left and right</source>
        <translation>Links und rechts spiegeln</translation>
    </message>
    <message>
        <source>Mirror front and back</source>
        <translation>Vorn und hinten spiegeln</translation>
    </message>
    <message>
        <source>First pass: terminals, ducts, fan</source>
        <translation>Erster Durchgang: Durchlässe, Kanäle, Ventilator</translation>
    </message>
    <message>
        <source>Merge</source>
        <translation>Vereinen</translation>
    </message>
    <message>
        <source>Split by a line</source>
        <translation>An einer Linie teilen</translation>
    </message>
    <message>
        <source>Number in sequence …</source>
        <translation>Fortlaufend nummerieren …</translation>
    </message>
    <message>
        <source>Copy openings of the first selected room to the others</source>
        <translation>Öffnungen des ersten gewählten Raums auf die anderen kopieren</translation>
    </message>
    <message>
        <source>Row of the selected opening …</source>
        <translation>Reihe der gewählten Öffnung …</translation>
    </message>
    <message>
        <source>Turn north …</source>
        <translation>Norden drehen …</translation>
    </message>
    <message>
        <source>Draw a duct (D)</source>
        <translation>Kanal zeichnen (D)</translation>
    </message>
    <message>
        <source>Join two open ends (J)</source>
        <translation>Zwei offene Enden verbinden (J)</translation>
    </message>
    <message>
        <source>Split a duct (X)</source>
        <translation>Kanal teilen (X)</translation>
    </message>
    <message>
        <source>Merge a short piece (M)</source>
        <translation>Kurzes Stück vereinen (M)</translation>
    </message>
    <message>
        <source>Draw a ceiling zone (C)</source>
        <translation>Deckenzone zeichnen (C)</translation>
    </message>
    <message>
        <source>Draw an obstacle (B)</source>
        <translation>Hindernis zeichnen (B)</translation>
    </message>
    <message>
        <source>Propose routes (P)</source>
        <translation>Wege vorschlagen (P)</translation>
    </message>
    <message>
        <source>Propose routes</source>
        <translation>Wege vorschlagen</translation>
    </message>
    <message>
        <source>Level above</source>
        <translation>Geschoss darüber</translation>
    </message>
    <message>
        <source>Level below</source>
        <translation>Geschoss darunter</translation>
    </message>
    <message>
        <source>Build-ups</source>
        <translation>Aufbauten</translation>
    </message>
    <message>
        <source>Build-up</source>
        <translation>Aufbau</translation>
    </message>
    <message>
        <source>Show the whole plan</source>
        <translation>Ganzen Plan zeigen</translation>
    </message>
    <message>
        <source>Show the whole plan (F)</source>
        <translation>Ganzen Plan zeigen (F)</translation>
    </message>
    <message>
        <source>SI or IP units</source>
        <translation>SI- oder IP-Einheiten</translation>
    </message>
    <message>
        <source>Dark</source>
        <translation>Dunkel</translation>
    </message>
    <message>
        <source>Larger</source>
        <translation>Größer</translation>
    </message>
    <message>
        <source>Smaller</source>
        <translation>Kleiner</translation>
    </message>
    <message>
        <source>Keep a mark …</source>
        <translation>Marke setzen …</translation>
    </message>
    <message>
        <source>Options side by side</source>
        <translation>Varianten nebeneinander</translation>
    </message>
    <message>
        <source>Study over ranges</source>
        <translation>Studie über Bereiche</translation>
    </message>
    <message>
        <source>Study</source>
        <translation>Studie</translation>
    </message>
    <message>
        <source>Save the office book …</source>
        <translation>Bürobuch sichern …</translation>
    </message>
    <message>
        <source>Take an office book …</source>
        <translation>Bürobuch übernehmen …</translation>
    </message>
    <message>
        <source>Keep build-ups, glass and fabric sets in it</source>
        <translation>Aufbauten, Glas und Bauteilsätze darin behalten</translation>
    </message>
    <message>
        <source>Bring its build-ups, glass and fabric sets here</source>
        <translation>Seine Aufbauten, Gläser und Bauteilsätze hierher holen</translation>
    </message>
    <message>
        <source>Write as PDF …</source>
        <translation>Als PDF schreiben …</translation>
    </message>
    <message>
        <source>Write as workbook (XLSX) …</source>
        <translation>Als Arbeitsmappe (XLSX) schreiben …</translation>
    </message>
    <message>
        <source>Write tables as CSV …</source>
        <translation>Tabellen als CSV schreiben …</translation>
    </message>
    <message>
        <source>Write plans as DXF …</source>
        <translation>Pläne als DXF schreiben …</translation>
    </message>
    <message>
        <source>Write plans as SVG …</source>
        <translation>Pläne als SVG schreiben …</translation>
    </message>
    <message>
        <source>Write building and ducts as IFC%1 …</source>
        <translation>Gebäude und Kanäle als IFC%1 schreiben …</translation>
    </message>
    <message>
        <source>Write the building with loads as gbXML …</source>
        <translation>Gebäude mit Lasten als gbXML schreiben …</translation>
    </message>
    <message>
        <source>Print</source>
        <translation>Drucken</translation>
    </message>
    <message>
        <source>Issue these papers …</source>
        <translation>Diese Unterlagen ausgeben …</translation>
    </message>
    <message>
        <source>Issue these papers</source>
        <translation>Unterlagen ausgeben</translation>
    </message>
    <message>
        <source>The office’s logo …</source>
        <translation>Logo des Büros …</translation>
    </message>
    <message>
        <source>Without a logo</source>
        <translation>Ohne Logo</translation>
    </message>
    <message>
        <source>Lines below the office’s name …</source>
        <translation>Zeilen unter dem Namen des Büros …</translation>
    </message>
    <message>
        <source>Find or do …</source>
        <translation>Finden oder tun …</translation>
    </message>
    <message>
        <source>Why this figure?</source>
        <translation>Warum diese Zahl?</translation>
    </message>
    <message>
        <source>Ten minutes with the demo building</source>
        <translation>Zehn Minuten mit dem Beispielgebäude</translation>
    </message>
    <message>
        <source>Ten minutes with the example</source>
        <translation>Zehn Minuten mit dem Beispiel</translation>
    </message>
    <message>
        <source>Keys</source>
        <translation>Tasten</translation>
    </message>
    <message>
        <source>About Garnetfin</source>
        <translation>Über Garnetfin</translation>
    </message>
    <message>
        <source>Climate</source>
        <translation>Klima</translation>
    </message>
    <message>
        <source>Building</source>
        <translation>Gebäude</translation>
    </message>
    <message>
        <source>Loads</source>
        <translation>Lasten</translation>
    </message>
    <message>
        <source>Air</source>
        <translation>Luft</translation>
    </message>
    <message>
        <source>air</source>
        <translation>Luft</translation>
    </message>
    <message>
        <source>Balance</source>
        <translation>Abgleich</translation>
    </message>
    <message>
        <source>Fan</source>
        <translation>Ventilator</translation>
    </message>
    <message>
        <source>Air system</source>
        <translation>Luftanlage</translation>
    </message>
    <message>
        <source>Open a project …</source>
        <translation>Projekt öffnen …</translation>
    </message>
    <message>
        <source>Draw a building</source>
        <translation>Gebäude zeichnen</translation>
    </message>
    <message>
        <source>Start from a room list</source>
        <translation>Mit einer Raumliste beginnen</translation>
    </message>
    <message>
        <source>Start from a drawing …</source>
        <translation>Mit einer Zeichnung beginnen …</translation>
    </message>
    <message>
        <source>Start from gbXML or IFC …</source>
        <translation>Mit gbXML oder IFC beginnen …</translation>
    </message>
    <message>
        <source>Recent</source>
        <translation>Zuletzt</translation>
    </message>
    <message>
        <source>From a window pane to a fan’s shaft: loads, air flows, ducts and fan in one chain.</source>
        <translation>Von der Fensterscheibe bis zur Ventilatorwelle: Lasten, Luftmengen, Kanäle und Ventilator in einer Kette.</translation>
    </message>
    <message>
        <source>Close</source>
        <translation>Schließen</translation>
    </message>
    <message>
        <source>Stop</source>
        <translation>Anhalten</translation>
    </message>
    <message>
        <source>Show</source>
        <translation>Zeigen</translation>
    </message>
    <message>
        <source>Accept …</source>
        <translation>Annehmen …</translation>
    </message>
    <message>
        <source>Take</source>
        <translation>Nehmen</translation>
    </message>
    <message>
        <source>Leave it</source>
        <translation>Lassen</translation>
    </message>
    <message>
        <source>leave it</source>
        <translation>lassen</translation>
    </message>
    <message>
        <source>Back to the card</source>
        <translation>Zurück zur Karte</translation>
    </message>
    <message>
        <source>Back to work</source>
        <translation>Zurück zur Arbeit</translation>
    </message>
    <message>
        <source>Document set</source>
        <translation>Unterlagen</translation>
    </message>
    <message>
        <source>%1 pages</source>
        <translation>%1 Seiten</translation>
    </message>
    <message>
        <source>page %1</source>
        <translation>Seite %1</translation>
    </message>
    <message>
        <source>pages %1–%2</source>
        <translation>Seiten %1–%2</translation>
    </message>
    <message>
        <source>left out</source>
        <translation>weggelassen</translation>
    </message>
    <message>
        <source>needs a mark</source>
        <translation>braucht eine Marke</translation>
    </message>
    <message>
        <source>moved</source>
        <translation>bewegt</translation>
    </message>
    <message>
        <source>%1 room</source>
        <translation>%1 Raum</translation>
    </message>
    <message>
        <source>%1 rooms</source>
        <translation>%1 Räume</translation>
    </message>
    <message>
        <source>%1 duct</source>
        <translation>%1 Kanal</translation>
    </message>
    <message>
        <source>%1 ducts</source>
        <translation>%1 Kanäle</translation>
    </message>
    <message>
        <source>Cover and contents</source>
        <translation>Deckblatt und Inhalt</translation>
    </message>
    <message>
        <source>Basis of design</source>
        <translation>Grundlagen</translation>
    </message>
    <message>
        <source>Loads of the building</source>
        <translation>Lasten des Gebäudes</translation>
    </message>
    <message>
        <source>Room load sheets</source>
        <translation>Raumblätter</translation>
    </message>
    <message>
        <source>Air of the rooms</source>
        <translation>Luft der Räume</translation>
    </message>
    <message>
        <source>Outdoor air</source>
        <translation>Außenluft</translation>
    </message>
    <message>
        <source>outdoor air</source>
        <translation>Außenluft</translation>
    </message>
    <message>
        <source>States and coil check</source>
        <translation>Zustände und Registerprüfung</translation>
    </message>
    <message>
        <source>Schedule of terminals</source>
        <translation>Liste der Durchlässe</translation>
    </message>
    <message>
        <source>Duct plans</source>
        <translation>Kanalpläne</translation>
    </message>
    <message>
        <source>Ducts and index run</source>
        <translation>Kanäle und ungünstigster Strang</translation>
    </message>
    <message>
        <source>Bill of quantities</source>
        <translation>Mengenauszug</translation>
    </message>
    <message>
        <source>Balancing sheet</source>
        <translation>Abgleichblatt</translation>
    </message>
    <message>
        <source>Fan sheet</source>
        <translation>Ventilatorblatt</translation>
    </message>
    <message>
        <source>Noise in rooms</source>
        <translation>Schall in Räumen</translation>
    </message>
    <message>
        <source>Findings and deviations</source>
        <translation>Befunde und Abweichungen</translation>
    </message>
    <message>
        <source>Changes</source>
        <translation>Änderungen</translation>
    </message>
    <message>
        <source>Derivations</source>
        <translation>Herleitungen</translation>
    </message>
    <message>
        <source>Write as</source>
        <translation>Schreiben als</translation>
    </message>
    <message>
        <source>Write …</source>
        <translation>Schreiben …</translation>
    </message>
    <message>
        <source>Issue %1</source>
        <translation>Ausgabe %1</translation>
    </message>
    <message>
        <source>issue %1</source>
        <translation>Ausgabe %1</translation>
    </message>
    <message>
        <source>not issued yet</source>
        <translation>noch nicht ausgegeben</translation>
    </message>
    <message>
        <source>This job</source>
        <translation>Dieser Auftrag</translation>
    </message>
    <message>
        <source>Job</source>
        <translation>Auftrag</translation>
    </message>
    <message>
        <source>Client</source>
        <translation>Auftraggeber</translation>
    </message>
    <message>
        <source>Made by</source>
        <translation>Bearbeitet</translation>
    </message>
    <message>
        <source>Checked by</source>
        <translation>Geprüft</translation>
    </message>
    <message>
        <source>Plans</source>
        <translation>Pläne</translation>
    </message>
    <message>
        <source>Plans on</source>
        <translation>Pläne auf</translation>
    </message>
    <message>
        <source>largest that fits</source>
        <translation>größter, der passt</translation>
    </message>
    <message>
        <source>The office’s sheet</source>
        <translation>Blatt des Büros</translation>
    </message>
    <message>
        <source>Office</source>
        <translation>Büro</translation>
    </message>
    <message>
        <source>logo: menu Papers</source>
        <translation>Logo: Menü Unterlagen</translation>
    </message>
    <message>
        <source>Before you issue</source>
        <translation>Vor der Ausgabe</translation>
    </message>
    <message>
        <source>%1 to look at</source>
        <translation>%1 anzusehen</translation>
    </message>
    <message>
        <source>Accepted deviations</source>
        <translation>Angenommene Abweichungen</translation>
    </message>
    <message>
        <source>Issues</source>
        <translation>Ausgaben</translation>
    </message>
    <message>
        <source>in work</source>
        <translation>in Arbeit</translation>
    </message>
    <message>
        <source>now</source>
        <translation>jetzt</translation>
    </message>
    <message>
        <source>Now</source>
        <translation>Jetzt</translation>
    </message>
    <message>
        <source>Pages</source>
        <translation>Seiten</translation>
    </message>
    <message>
        <source>Changed</source>
        <translation>Geändert</translation>
    </message>
    <message>
        <source>Open</source>
        <translation>Offen</translation>
    </message>
    <message>
        <source>What changed</source>
        <translation>Was sich änderte</translation>
    </message>
    <message>
        <source>since the mark</source>
        <translation>seit der Marke</translation>
    </message>
    <message>
        <source>no mark</source>
        <translation>keine Marke</translation>
    </message>
    <message>
        <source>%1 break a limit</source>
        <translation>%1 verletzen eine Grenze</translation>
    </message>
    <message>
        <source>no limit broken</source>
        <translation>keine Grenze verletzt</translation>
    </message>
    <message>
        <source>made %1</source>
        <translation>erstellt %1</translation>
    </message>
    <message>
        <source>unchanged</source>
        <translation>unverändert</translation>
    </message>
    <message>
        <source>%1 design days</source>
        <translation>%1 Auslegungstage</translation>
    </message>
    <message>
        <source>%1 unheated</source>
        <translation>%1 unbeheizt</translation>
    </message>
    <message>
        <source>rooms, cool / heat</source>
        <translation>Räume, kühlen / heizen</translation>
    </message>
    <message>
        <source>%1 % outdoor</source>
        <translation>%1 % Außenluft</translation>
    </message>
    <message>
        <source>%1 kg metal</source>
        <translation>%1 kg Blech</translation>
    </message>
    <message>
        <source>index run %1b</source>
        <translation>ungünstigst %1b</translation>
    </message>
    <message>
        <source>index run %1</source>
        <translation>ungünstigst %1</translation>
    </message>
    <message>
        <source>%1 of %2</source>
        <translation>%1 von %2</translation>
    </message>
    <message>
        <source>serves %1 rooms</source>
        <translation>für %1 Räume</translation>
    </message>
    <message>
        <source>not saved</source>
        <translation>nicht gesichert</translation>
    </message>
    <message>
        <source>not saved yet</source>
        <translation>noch nicht gesichert</translation>
    </message>
    <message>
        <source>saved %1</source>
        <translation>gesichert %1</translation>
    </message>
    <message>
        <source>findings %1</source>
        <translation>Befunde %1</translation>
    </message>
    <message>
        <source>computing</source>
        <translation>rechnet</translation>
    </message>
    <message>
        <source>Ground level</source>
        <translation>Geschoss Ground</translation>
    </message>
    <message>
        <source>Findings</source>
        <translation>Befunde</translation>
    </message>
    <message>
        <source>Finding</source>
        <translation>Befund</translation>
    </message>
    <message>
        <source>Inputs</source>
        <translation>Eingaben</translation>
    </message>
    <message>
        <source>Causes</source>
        <translation>Ursachen</translation>
    </message>
    <message>
        <source>Area</source>
        <translation>Fläche</translation>
    </message>
    <message>
        <source>Areas</source>
        <translation>Flächen</translation>
    </message>
    <message>
        <source>Ceiling</source>
        <translation>Decke</translation>
    </message>
    <message>
        <source>Ceiling height</source>
        <translation>Raumhöhe</translation>
    </message>
    <message>
        <source>People</source>
        <translation>Personen</translation>
    </message>
    <message>
        <source>Lights</source>
        <translation>Licht</translation>
    </message>
    <message>
        <source>Equipment</source>
        <translation>Geräte</translation>
    </message>
    <message>
        <source>Infiltration</source>
        <translation>Infiltration</translation>
    </message>
    <message>
        <source>Use</source>
        <translation>Nutzung</translation>
    </message>
    <message>
        <source>Zone</source>
        <translation>Zone</translation>
    </message>
    <message>
        <source>Zones</source>
        <translation>Zonen</translation>
    </message>
    <message>
        <source>Levels</source>
        <translation>Geschosse</translation>
    </message>
    <message>
        <source>click for heights</source>
        <translation>Klick für Höhen</translation>
    </message>
    <message>
        <source>click for set-points</source>
        <translation>Klick für Sollwerte</translation>
    </message>
    <message>
        <source>click to select</source>
        <translation>Klick wählt</translation>
    </message>
    <message>
        <source>Set-point, cooling</source>
        <translation>Sollwert Kühlen</translation>
    </message>
    <message>
        <source>Set-point, heating</source>
        <translation>Sollwert Heizen</translation>
    </message>
    <message>
        <source>Cooling</source>
        <translation>Kühlen</translation>
    </message>
    <message>
        <source>cooling</source>
        <translation>Kühlen</translation>
    </message>
    <message>
        <source>Heating</source>
        <translation>Heizen</translation>
    </message>
    <message>
        <source>heating</source>
        <translation>Heizen</translation>
    </message>
    <message>
        <source>Latent</source>
        <translation>Latent</translation>
    </message>
    <message>
        <source>Sensible</source>
        <translation>Sensibel</translation>
    </message>
    <message>
        <source>Cooling load</source>
        <translation>Kühllast</translation>
    </message>
    <message>
        <source>Floor</source>
        <translation>Boden</translation>
    </message>
    <message>
        <source>Floors</source>
        <translation>Böden</translation>
    </message>
    <message>
        <source>Glass</source>
        <translation>Glas</translation>
    </message>
    <message>
        <source>Walls</source>
        <translation>Wände</translation>
    </message>
    <message>
        <source>Wall</source>
        <translation>Wand</translation>
    </message>
    <message>
        <source>Roofs</source>
        <translation>Dächer</translation>
    </message>
    <message>
        <source>Bridges</source>
        <translation>Wärmebrücken</translation>
    </message>
    <message>
        <source>Glass sun</source>
        <translation>Sonne durch Glas</translation>
    </message>
    <message>
        <source>Glass conduction</source>
        <translation>Leitung durch Glas</translation>
    </message>
    <message>
        <source>Rooms beside</source>
        <translation>Nachbarräume</translation>
    </message>
    <message>
        <source>Unheated beside</source>
        <translation>Unbeheizt daneben</translation>
    </message>
    <message>
        <source>Neighbours</source>
        <translation>Nachbarn</translation>
    </message>
    <message>
        <source>Faces</source>
        <translation>Flächen</translation>
    </message>
    <message>
        <source>Face</source>
        <translation>Fläche</translation>
    </message>
    <message>
        <source>Name</source>
        <translation>Name</translation>
    </message>
    <message>
        <source>No.</source>
        <translation>Nr.</translation>
    </message>
    <message>
        <source>Room</source>
        <translation>Raum</translation>
    </message>
    <message>
        <source>Room table</source>
        <translation>Raumtabelle</translation>
    </message>
    <message>
        <source>Level</source>
        <translation>Geschoss</translation>
    </message>
    <message>
        <source>Known</source>
        <translation>Bekannt</translation>
    </message>
    <message>
        <source>Known as</source>
        <translation>Bekannt als</translation>
    </message>
    <message>
        <source>detailed</source>
        <translation>im Einzelnen</translation>
    </message>
    <message>
        <source>Early estimate</source>
        <translation>Frühe Schätzung</translation>
    </message>
    <message>
        <source>Supply</source>
        <translation>Zuluft</translation>
    </message>
    <message>
        <source>supply</source>
        <translation>Zuluft</translation>
    </message>
    <message>
        <source>Supply air</source>
        <translation>Zuluft</translation>
    </message>
    <message>
        <source>supply air</source>
        <translation>Zuluft</translation>
    </message>
    <message>
        <source>Return</source>
        <translation>Rückluft</translation>
    </message>
    <message>
        <source>Return air</source>
        <translation>Rückluft</translation>
    </message>
    <message>
        <source>Extract</source>
        <translation>Abluft</translation>
    </message>
    <message>
        <source>Extract air</source>
        <translation>Abluft</translation>
    </message>
    <message>
        <source>Exhaust</source>
        <translation>Fortluft</translation>
    </message>
    <message>
        <source>Outdoor</source>
        <translation>Außen</translation>
    </message>
    <message>
        <source>outdoors</source>
        <translation>außen</translation>
    </message>
    <message>
        <source>Transfer air</source>
        <translation>Überströmluft</translation>
    </message>
    <message>
        <source>transfer air</source>
        <translation>Überströmluft</translation>
    </message>
    <message>
        <source>Supply temperature</source>
        <translation>Zulufttemperatur</translation>
    </message>
    <message>
        <source>Supply ducts</source>
        <translation>Zuluftkanäle</translation>
    </message>
    <message>
        <source>Supply fan</source>
        <translation>Zuluftventilator</translation>
    </message>
    <message>
        <source>Return fan</source>
        <translation>Rückluftventilator</translation>
    </message>
    <message>
        <source>Heat recovery</source>
        <translation>Wärmerückgewinnung</translation>
    </message>
    <message>
        <source>Cooling coil</source>
        <translation>Kühlregister</translation>
    </message>
    <message>
        <source>Heating coil</source>
        <translation>Heizregister</translation>
    </message>
    <message>
        <source>Filter</source>
        <translation>Filter</translation>
    </message>
    <message>
        <source>Silencer</source>
        <translation>Schalldämpfer</translation>
    </message>
    <message>
        <source>Mixing</source>
        <translation>Mischung</translation>
    </message>
    <message>
        <source>Control</source>
        <translation>Regelung</translation>
    </message>
    <message>
        <source>Pattern</source>
        <translation>Muster</translation>
    </message>
    <message>
        <source>Variable flow</source>
        <translation>Veränderliche Luftmenge</translation>
    </message>
    <message>
        <source>Constant flow</source>
        <translation>Gleiche Luftmenge</translation>
    </message>
    <message>
        <source>In summer</source>
        <translation>Im Sommer</translation>
    </message>
    <message>
        <source>In winter</source>
        <translation>Im Winter</translation>
    </message>
    <message>
        <source>Summer</source>
        <translation>Sommer</translation>
    </message>
    <message>
        <source>Winter</source>
        <translation>Winter</translation>
    </message>
    <message>
        <source>What governs</source>
        <translation>Was bestimmt</translation>
    </message>
    <message>
        <source>Governs</source>
        <translation>Bestimmt</translation>
    </message>
    <message>
        <source>Governing hour</source>
        <translation>Maßgebende Stunde</translation>
    </message>
    <message>
        <source>least air change</source>
        <translation>Mindestluftwechsel</translation>
    </message>
    <message>
        <source>Least air change</source>
        <translation>Mindestluftwechsel</translation>
    </message>
    <message>
        <source>Least outdoor air</source>
        <translation>Mindestaußenluft</translation>
    </message>
    <message>
        <source>make-up</source>
        <translation>Nachströmen</translation>
    </message>
    <message>
        <source>State</source>
        <translation>Zustand</translation>
    </message>
    <message>
        <source>States</source>
        <translation>Zustände</translation>
    </message>
    <message>
        <source>State list</source>
        <translation>Zustandsliste</translation>
    </message>
    <message>
        <source>Dry bulb</source>
        <translation>Trockenkugel</translation>
    </message>
    <message>
        <source>Wet bulb</source>
        <translation>Feuchtkugel</translation>
    </message>
    <message>
        <source>Dew point</source>
        <translation>Taupunkt</translation>
    </message>
    <message>
        <source>Enthalpy</source>
        <translation>Enthalpie</translation>
    </message>
    <message>
        <source>Humidity ratio</source>
        <translation>Wassergehalt</translation>
    </message>
    <message>
        <source>Relative humidity</source>
        <translation>Relative Feuchte</translation>
    </message>
    <message>
        <source>Water</source>
        <translation>Wasser</translation>
    </message>
    <message>
        <source>Coil check</source>
        <translation>Registerprüfung</translation>
    </message>
    <message>
        <source>Coil check sheet</source>
        <translation>Registerprüfung</translation>
    </message>
    <message>
        <source>Air balance</source>
        <translation>Luftbilanz</translation>
    </message>
    <message>
        <source>Terminals</source>
        <translation>Durchlässe</translation>
    </message>
    <message>
        <source>Terminal</source>
        <translation>Durchlass</translation>
    </message>
    <message>
        <source>terminal</source>
        <translation>Durchlass</translation>
    </message>
    <message>
        <source>Plant and shares</source>
        <translation>Zentrale und Anteile</translation>
    </message>
    <message>
        <source>Hours</source>
        <translation>Stunden</translation>
    </message>
    <message>
        <source>Year</source>
        <translation>Jahr</translation>
    </message>
    <message>
        <source>Size</source>
        <translation>Größe</translation>
    </message>
    <message>
        <source>Size ladder</source>
        <translation>Größenleiter</translation>
    </message>
    <message>
        <source>Shape</source>
        <translation>Form</translation>
    </message>
    <message>
        <source>Round</source>
        <translation>Rund</translation>
    </message>
    <message>
        <source>round</source>
        <translation>rund</translation>
    </message>
    <message>
        <source>Rectangular</source>
        <translation>Rechteckig</translation>
    </message>
    <message>
        <source>rectangular</source>
        <translation>rechteckig</translation>
    </message>
    <message>
        <source>Oval</source>
        <translation>Oval</translation>
    </message>
    <message>
        <source>flat oval</source>
        <translation>flachoval</translation>
    </message>
    <message>
        <source>Velocity</source>
        <translation>Geschwindigkeit</translation>
    </message>
    <message>
        <source>Friction</source>
        <translation>Reibung</translation>
    </message>
    <message>
        <source>Length</source>
        <translation>Länge</translation>
    </message>
    <message>
        <source>Flow</source>
        <translation>Luftmenge</translation>
    </message>
    <message>
        <source>Pressure</source>
        <translation>Druck</translation>
    </message>
    <message>
        <source>Pressure drop</source>
        <translation>Druckverlust</translation>
    </message>
    <message>
        <source>Fittings</source>
        <translation>Formstücke</translation>
    </message>
    <message>
        <source>Fitting</source>
        <translation>Formstück</translation>
    </message>
    <message>
        <source>Segment</source>
        <translation>Strecke</translation>
    </message>
    <message>
        <source>Segments</source>
        <translation>Strecken</translation>
    </message>
    <message>
        <source>Duct</source>
        <translation>Kanal</translation>
    </message>
    <message>
        <source>Ducts and fittings</source>
        <translation>Kanäle und Formstücke</translation>
    </message>
    <message>
        <source>Long section</source>
        <translation>Längsschnitt</translation>
    </message>
    <message>
        <source>Runs</source>
        <translation>Stränge</translation>
    </message>
    <message>
        <source>Run</source>
        <translation>Strang</translation>
    </message>
    <message>
        <source>Index run</source>
        <translation>Ungünstigster Strang</translation>
    </message>
    <message>
        <source>index run</source>
        <translation>ungünstigster Strang</translation>
    </message>
    <message>
        <source>trunk</source>
        <translation>Hauptkanal</translation>
    </message>
    <message>
        <source>branch</source>
        <translation>Abzweig</translation>
    </message>
    <message>
        <source>last piece</source>
        <translation>letztes Stück</translation>
    </message>
    <message>
        <source>Role</source>
        <translation>Rolle</translation>
    </message>
    <message>
        <source>Damper</source>
        <translation>Klappe</translation>
    </message>
    <message>
        <source>damper</source>
        <translation>Klappe</translation>
    </message>
    <message>
        <source>Blade angle</source>
        <translation>Klappenwinkel</translation>
    </message>
    <message>
        <source>Surplus</source>
        <translation>Überschuss</translation>
    </message>
    <message>
        <source>Insulation outside</source>
        <translation>Dämmung außen</translation>
    </message>
    <message>
        <source>Lining inside</source>
        <translation>Auskleidung innen</translation>
    </message>
    <message>
        <source>Material</source>
        <translation>Werkstoff</translation>
    </message>
    <message>
        <source>galvanised</source>
        <translation>verzinkt</translation>
    </message>
    <message>
        <source>stainless</source>
        <translation>nichtrostend</translation>
    </message>
    <message>
        <source>aluminium</source>
        <translation>Aluminium</translation>
    </message>
    <message>
        <source>Sheet</source>
        <translation>Blech</translation>
    </message>
    <message>
        <source>Class</source>
        <translation>Klasse</translation>
    </message>
    <message>
        <source>Sized by</source>
        <translation>Bemessen nach</translation>
    </message>
    <message>
        <source>Constant friction</source>
        <translation>gleiche Reibung</translation>
    </message>
    <message>
        <source>Static regain</source>
        <translation>statischer Rückgewinn</translation>
    </message>
    <message>
        <source>Least cost over life</source>
        <translation>geringste Lebenskosten</translation>
    </message>
    <message>
        <source>Pressure stair</source>
        <translation>Drucktreppe</translation>
    </message>
    <message>
        <source>What-ifs</source>
        <translation>Was wäre wenn</translation>
    </message>
    <message>
        <source>What if</source>
        <translation>Was wäre wenn</translation>
    </message>
    <message>
        <source>no dampers</source>
        <translation>ohne Klappen</translation>
    </message>
    <message>
        <source>filter clean</source>
        <translation>Filter sauber</translation>
    </message>
    <message>
        <source>filter loaded</source>
        <translation>Filter beladen</translation>
    </message>
    <message>
        <source>flexible pressed</source>
        <translation>Schläuche gestaucht</translation>
    </message>
    <message>
        <source>boxes turned down</source>
        <translation>Volumenregler gedrosselt</translation>
    </message>
    <message>
        <source>ducts leak</source>
        <translation>Kanäle undicht</translation>
    </message>
    <message>
        <source>as designed</source>
        <translation>wie ausgelegt</translation>
    </message>
    <message>
        <source>As designed</source>
        <translation>Wie ausgelegt</translation>
    </message>
    <message>
        <source>Gets</source>
        <translation>Bekommt</translation>
    </message>
    <message>
        <source>gets</source>
        <translation>bekommt</translation>
    </message>
    <message>
        <source>Design</source>
        <translation>Auslegung</translation>
    </message>
    <message>
        <source>Commissioning</source>
        <translation>Einregulierung</translation>
    </message>
    <message>
        <source>Noise</source>
        <translation>Schall</translation>
    </message>
    <message>
        <source>Speed</source>
        <translation>Drehzahl</translation>
    </message>
    <message>
        <source>Efficiency</source>
        <translation>Wirkungsgrad</translation>
    </message>
    <message>
        <source>Electric power</source>
        <translation>Elektrische Leistung</translation>
    </message>
    <message>
        <source>Total pressure</source>
        <translation>Gesamtdruck</translation>
    </message>
    <message>
        <source>Operating point</source>
        <translation>Betriebspunkt</translation>
    </message>
    <message>
        <source>Candidates</source>
        <translation>Kandidaten</translation>
    </message>
    <message>
        <source>Fans</source>
        <translation>Ventilatoren</translation>
    </message>
    <message>
        <source>From stall</source>
        <translation>Vom Abriss</translation>
    </message>
    <message>
        <source>Power</source>
        <translation>Leistung</translation>
    </message>
    <message>
        <source>Place</source>
        <translation>Ort</translation>
    </message>
    <message>
        <source>Place …</source>
        <translation>Ort …</translation>
    </message>
    <message>
        <source>Latitude</source>
        <translation>Breite</translation>
    </message>
    <message>
        <source>Longitude</source>
        <translation>Länge</translation>
    </message>
    <message>
        <source>Above the sea</source>
        <translation>Über dem Meer</translation>
    </message>
    <message>
        <source>Design days</source>
        <translation>Auslegungstage</translation>
    </message>
    <message>
        <source>Design conditions</source>
        <translation>Auslegungsbedingungen</translation>
    </message>
    <message>
        <source>Daily range</source>
        <translation>Tagesgang</translation>
    </message>
    <message>
        <source>Coincident wet bulb</source>
        <translation>Zugehörige Feuchtkugel</translation>
    </message>
    <message>
        <source>Winter dry bulb</source>
        <translation>Winter, trocken</translation>
    </message>
    <message>
        <source>Winter humidity</source>
        <translation>Winter, Feuchte</translation>
    </message>
    <message>
        <source>Mean of the year</source>
        <translation>Jahresmittel</translation>
    </message>
    <message>
        <source>Ground reflectance</source>
        <translation>Bodenreflexion</translation>
    </message>
    <message>
        <source>Wind</source>
        <translation>Wind</translation>
    </message>
    <message>
        <source>Summer time</source>
        <translation>Sommerzeit</translation>
    </message>
    <message>
        <source>Sun path</source>
        <translation>Sonnenweg</translation>
    </message>
    <message>
        <source>Sun</source>
        <translation>Sonne</translation>
    </message>
    <message>
        <source>North</source>
        <translation>Norden</translation>
    </message>
    <message>
        <source>South</source>
        <translation>Süden</translation>
    </message>
    <message>
        <source>East</source>
        <translation>Osten</translation>
    </message>
    <message>
        <source>West</source>
        <translation>Westen</translation>
    </message>
    <message>
        <source>Assumptions</source>
        <translation>Annahmen</translation>
    </message>
    <message>
        <source>by rule</source>
        <translation>nach Regel</translation>
    </message>
    <message>
        <source>by rule or pinned</source>
        <translation>nach Regel oder festgesteckt</translation>
    </message>
    <message>
        <source>typed</source>
        <translation>getippt</translation>
    </message>
    <message>
        <source>none</source>
        <translation>keine</translation>
    </message>
    <message>
        <source>None</source>
        <translation>Keine</translation>
    </message>
    <message>
        <source>nothing</source>
        <translation>nichts</translation>
    </message>
    <message>
        <source>all year</source>
        <translation>ganzjährig</translation>
    </message>
    <message>
        <source>around the clock</source>
        <translation>rund um die Uhr</translation>
    </message>
    <message>
        <source>Working day</source>
        <translation>Arbeitstag</translation>
    </message>
    <message>
        <source>Other day</source>
        <translation>Anderer Tag</translation>
    </message>
    <message>
        <source>Window</source>
        <translation>Fenster</translation>
    </message>
    <message>
        <source>Glazing</source>
        <translation>Verglasung</translation>
    </message>
    <message>
        <source>U-value</source>
        <translation>U-Wert</translation>
    </message>
    <message>
        <source>Width</source>
        <translation>Breite</translation>
    </message>
    <message>
        <source>Height</source>
        <translation>Höhe</translation>
    </message>
    <message>
        <source>Sill</source>
        <translation>Brüstung</translation>
    </message>
    <message>
        <source>Head</source>
        <translation>Sturz</translation>
    </message>
    <message>
        <source>Reveal</source>
        <translation>Leibung</translation>
    </message>
    <message>
        <source>Overhang</source>
        <translation>Überstand</translation>
    </message>
    <message>
        <source>Remove this opening</source>
        <translation>Diese Öffnung entfernen</translation>
    </message>
    <message>
        <source>Remove this duct</source>
        <translation>Diesen Kanal entfernen</translation>
    </message>
    <message>
        <source>Remove this terminal</source>
        <translation>Diesen Durchlass entfernen</translation>
    </message>
    <message>
        <source>Remove this zone</source>
        <translation>Diese Zone entfernen</translation>
    </message>
    <message>
        <source>unpin all</source>
        <translation>alles lösen</translation>
    </message>
    <message>
        <source>Plan</source>
        <translation>Plan</translation>
    </message>
    <message>
        <source>Colour</source>
        <translation>Farbe</translation>
    </message>
    <message>
        <source>Exposure</source>
        <translation>Lage</translation>
    </message>
    <message>
        <source>Lines</source>
        <translation>Linien</translation>
    </message>
    <message>
        <source>Day by cause</source>
        <translation>Tag nach Ursachen</translation>
    </message>
    <message>
        <source>Hour field</source>
        <translation>Stundenfeld</translation>
    </message>
    <message>
        <source>What moves it</source>
        <translation>Was sie bewegt</translation>
    </message>
    <message>
        <source>Use through the day</source>
        <translation>Nutzung am Tag</translation>
    </message>
    <message>
        <source>Through the day</source>
        <translation>Am Tag</translation>
    </message>
    <message>
        <source>Greatest cooling loads</source>
        <translation>Größte Kühllasten</translation>
    </message>
    <message>
        <source>Glass by facade</source>
        <translation>Glas nach Fassade</translation>
    </message>
    <message>
        <source>Below the plan</source>
        <translation>Unter dem Plan</translation>
    </message>
    <message>
        <source>Fabric sets</source>
        <translation>Bauteilsätze</translation>
    </message>
    <message>
        <source>Measured</source>
        <translation>Gemessen</translation>
    </message>
    <message>
        <source>for the whole building</source>
        <translation>für das ganze Gebäude</translation>
    </message>
    <message>
        <source>on wall centre lines</source>
        <translation>auf Wandachsen</translation>
    </message>
    <message>
        <source>net, between walls</source>
        <translation>netto, zwischen Wänden</translation>
    </message>
    <message>
        <source>at its worst hour</source>
        <translation>zu seiner schlimmsten Stunde</translation>
    </message>
    <message>
        <source>%1% of walls</source>
        <translation>%1% der Wände</translation>
    </message>
    <message>
        <source>%1 rooms served, %2 unheated</source>
        <translation>%1 Räume versorgt, %2 unbeheizt</translation>
    </message>
    <message>
        <source>Select and move (Esc)</source>
        <translation>Wählen und bewegen (Esc)</translation>
    </message>
    <message>
        <source>Draw a room (R)</source>
        <translation>Raum zeichnen (R)</translation>
    </message>
    <message>
        <source>Undo (Ctrl+Z)</source>
        <translation>Rückgängig (Ctrl+Z)</translation>
    </message>
    <message>
        <source>Keep what stands as an option …</source>
        <translation>Was steht als Variante behalten …</translation>
    </message>
    <message>
        <source>%1 options beside what stands</source>
        <translation>%1 Varianten neben dem, was steht</translation>
    </message>
    <message>
        <source>Figure</source>
        <translation>Größe</translation>
    </message>
    <message>
        <source>Vary</source>
        <translation>Ändern</translation>
    </message>
    <message>
        <source>and</source>
        <translation>und</translation>
    </message>
    <message>
        <source>from</source>
        <translation>von</translation>
    </message>
    <message>
        <source>to</source>
        <translation>bis</translation>
    </message>
    <message>
        <source>in</source>
        <translation>in</translation>
    </message>
    <message>
        <source>steps</source>
        <translation>Schritten</translation>
    </message>
    <message>
        <source>Compute</source>
        <translation>Rechnen</translation>
    </message>
    <message>
        <source>Plot</source>
        <translation>Auftragen</translation>
    </message>
    <message>
        <source>Write CSV …</source>
        <translation>CSV schreiben …</translation>
    </message>
    <message>
        <source>Write Parquet …</source>
        <translation>Parquet schreiben …</translation>
    </message>
    <message>
        <source>on</source>
        <translation>auf</translation>
    </message>
    <message>
        <source>off</source>
        <translation>aus</translation>
    </message>
    <message>
        <source>A few moments</source>
        <translation>Einen Augenblick</translation>
    </message>
    <message>
        <source>Making the papers</source>
        <translation>Die Unterlagen entstehen</translation>
    </message>
    <message>
        <source>Computing …</source>
        <translation>Rechnet …</translation>
    </message>
    <message>
        <source>against now</source>
        <translation>gegen jetzt</translation>
    </message>
    <message>
        <source>System</source>
        <translation>Anlage</translation>
    </message>
    <message>
        <source>unit</source>
        <translation>Gerät</translation>
    </message>
    <message>
        <source>Settings</source>
        <translation>Einstellungen</translation>
    </message>
    <message>
        <source>Look</source>
        <translation>Aussehen</translation>
    </message>
    <message>
        <source>Language</source>
        <translation>Sprache</translation>
    </message>
    <message>
        <source>Jan</source>
        <translation>Jan</translation>
    </message>
    <message>
        <source>Feb</source>
        <translation>Feb</translation>
    </message>
    <message>
        <source>Mar</source>
        <translation>Mär</translation>
    </message>
    <message>
        <source>Apr</source>
        <translation>Apr</translation>
    </message>
    <message>
        <source>May</source>
        <translation>Mai</translation>
    </message>
    <message>
        <source>Jun</source>
        <translation>Jun</translation>
    </message>
    <message>
        <source>Jul</source>
        <translation>Jul</translation>
    </message>
    <message>
        <source>Aug</source>
        <translation>Aug</translation>
    </message>
    <message>
        <source>Sep</source>
        <translation>Sep</translation>
    </message>
    <message>
        <source>Oct</source>
        <translation>Okt</translation>
    </message>
    <message>
        <source>Nov</source>
        <translation>Nov</translation>
    </message>
    <message>
        <source>Dec</source>
        <translation>Dez</translation>
    </message>
    <message>
        <source>%1 Aug, %2–%3 h</source>
        <translation>%1. Aug., %2–%3 Uhr</translation>
    </message>
    <message>
        <source>%1 Jul, %2–%3 h</source>
        <translation>%1. Juli, %2–%3 Uhr</translation>
    </message>
    <message>
        <source>Touches beam B%1 by %2 mm</source>
        <translation>Stößt um %2 mm an Balken B%1</translation>
    </message>
    <message>
        <source>%1 × %2 needs %3 mm, %4 mm are free.</source>
        <translation>%1 × %2 braucht %3 mm, frei sind %4 mm.</translation>
    </message>
    <message>
        <source>Take %1 × %2</source>
        <translation>%1 × %2 nehmen</translation>
    </message>
    <message>
        <source>The set follows every edit. A switch takes a paper in or leaves it out; a click shows it.</source>
        <translation>Die Unterlagen folgen jeder Änderung. Ein Schalter nimmt ein Blatt auf oder lässt es weg; ein Klick zeigt es.</translation>
    </message>
    <message>
        <source>There are unsaved edits.</source>
        <translation>Es gibt ungesicherte Änderungen.</translation>
    </message>
    <message>
        <source>Save and close</source>
        <translation>Sichern und schließen</translation>
    </message>
    <message>
        <source>Close without them</source>
        <translation>Ohne sie schließen</translation>
    </message>
    <message>
        <source>Save first</source>
        <translation>Erst sichern</translation>
    </message>
    <message>
        <source>Without them</source>
        <translation>Ohne sie</translation>
    </message>
</context>
</TS>
