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
        <source>Snapshots</source>
        <translation>Stände</translation>
    </message>
    <message>
        <source>Office standards</source>
        <translation>Bürovorgaben</translation>
    </message>
    <message>
        <source>office standards</source>
        <translation>Bürovorgaben</translation>
    </message>
    <message>
        <source>Documents</source>
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
        <source>Export rooms as CSV …</source>
        <translation>Räume als CSV exportieren …</translation>
    </message>
    <message>
        <source>Export faces as CSV …</source>
        <translation>Flächen als CSV exportieren …</translation>
    </message>
    <message>
        <source>Export the exploded view as PDF …</source>
        <translation>Abgehobene Geschosse als PDF exportieren …</translation>
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
        <source>Remove unused</source>
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
        <source>Surrounding building, shaft or void</source>
        <translation>Nachbarkörper, Schacht oder Luftraum</translation>
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
        <source>First design: terminals, ducts, fan</source>
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
        <source>Keep a snapshot …</source>
        <translation>Stand sichern …</translation>
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
        <source>Save the office standards …</source>
        <translation>Bürovorgaben sichern …</translation>
    </message>
    <message>
        <source>Apply office standards …</source>
        <translation>Bürovorgaben übernehmen …</translation>
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
        <source>Export PDF …</source>
        <translation>Als PDF exportieren …</translation>
    </message>
    <message>
        <source>Export workbook (XLSX) …</source>
        <translation>Als Arbeitsmappe (XLSX) exportieren …</translation>
    </message>
    <message>
        <source>Export tables as CSV …</source>
        <translation>Tabellen als CSV exportieren …</translation>
    </message>
    <message>
        <source>Export plans as DXF …</source>
        <translation>Pläne als DXF exportieren …</translation>
    </message>
    <message>
        <source>Export plans as SVG …</source>
        <translation>Pläne als SVG exportieren …</translation>
    </message>
    <message>
        <source>Export building and ducts as IFC%1 …</source>
        <translation>Gebäude und Kanäle als IFC%1 exportieren …</translation>
    </message>
    <message>
        <source>Export the building with loads as gbXML …</source>
        <translation>Gebäude mit Lasten als gbXML exportieren …</translation>
    </message>
    <message>
        <source>Print</source>
        <translation>Drucken</translation>
    </message>
    <message>
        <source>Issue the set …</source>
        <translation>Diese Unterlagen ausgeben …</translation>
    </message>
    <message>
        <source>Issue the set</source>
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
        <source>Apply</source>
        <translation>Nehmen</translation>
    </message>
    <message>
        <source>Skip</source>
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
        <source>needs a snapshot</source>
        <translation>braucht einen Stand</translation>
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
        <source>Findings and accepted issues</source>
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
        <source>Export</source>
        <translation>Export</translation>
    </message>
    <message>
        <source>Export …</source>
        <translation>Exportieren …</translation>
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
        <source>logo: menu Documents</source>
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
        <source>Accepted issues</source>
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
        <source>since the snapshot</source>
        <translation>seit dem Stand</translation>
    </message>
    <message>
        <source>no snapshot</source>
        <translation>kein Stand</translation>
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
        <source>Thermal bridges</source>
        <translation>Wärmebrücken</translation>
    </message>
    <message>
        <source>Solar through glass</source>
        <translation>Sonne durch Glas</translation>
    </message>
    <message>
        <source>Conduction through glass</source>
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
        <source>Input detail</source>
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
        <source>runout</source>
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
        <source>Excess pressure</source>
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
        <source>compressed flexible duct</source>
        <translation>Schlauch gestaucht</translation>
    </message>
    <message>
        <source>boxes at minimum</source>
        <translation>Regler gedrosselt</translation>
    </message>
    <message>
        <source>duct leakage</source>
        <translation>undicht</translation>
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
        <source>Actual flow</source>
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
        <source>Stall margin</source>
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
        <source>Sensitivity</source>
        <translation>Was sie bewegt</translation>
    </message>
    <message>
        <source>Profile</source>
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
        <source>Export CSV …</source>
        <translation>CSV exportieren …</translation>
    </message>
    <message>
        <source>Export Parquet …</source>
        <translation>Parquet exportieren …</translation>
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
        <source>Making the documents</source>
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
        <source>Apply %1 × %2</source>
        <translation>%1 × %2 nehmen</translation>
    </message>
    <message>
        <source>The set follows every edit. A switch takes a document in or leaves it out; a click shows it.</source>
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
    <message>
        <source>dry air</source>
        <translation>trockene Luft</translation>
    </message>
    <message>
        <source>its k</source>
        <translation>ihr k-Wert</translation>
    </message>
    <message>
        <source>or as a length</source>
        <translation>oder als Länge</translation>
    </message>
    <message>
        <source>% glass</source>
        <translation>% Glas</translation>
    </message>
    <message>
        <source>+ flow</source>
        <translation>+ Luftmenge</translation>
    </message>
    <message>
        <source>+ height</source>
        <translation>+ Höhe</translation>
    </message>
    <message>
        <source>%1 by rule</source>
        <translation>%1 nach Regel</translation>
    </message>
    <message>
        <source>%1 pinned</source>
        <translation>%1 festgesteckt</translation>
    </message>
    <message>
        <source>%1 m above zero</source>
        <translation>%1 m über null</translation>
    </message>
    <message>
        <source>%1 sun is %2%3 of cooling</source>
        <translation>%1 Sonne ist %2%3 des Kühlens</translation>
    </message>
    <message>
        <source>%1 is hard to balance here</source>
        <translation>%1 ist hier schwer abzugleichen</translation>
    </message>
    <message>
        <source>%1 %2 are hotter</source>
        <translation>%1 %2 sind heißer</translation>
    </message>
    <message>
        <source>%1 %2 are warmer</source>
        <translation>%1 %2 sind wärmer</translation>
    </message>
    <message>
        <source>%1 pinned values here</source>
        <translation>%1 festgesteckte Werte hier</translation>
    </message>
    <message>
        <source>%1 windows</source>
        <translation>%1 Fenster</translation>
    </message>
    <message>
        <source>%1 windows share it</source>
        <translation>%1 Fenster haben es</translation>
    </message>
    <message>
        <source>%1 Pa static</source>
        <translation>%1 Pa statisch</translation>
    </message>
    <message>
        <source>%1 m³/s by the fan</source>
        <translation>%1 m³/s vom Ventilator</translation>
    </message>
    <message>
        <source>%1 Pa to spare</source>
        <translation>%1 Pa übrig</translation>
    </message>
    <message>
        <source>%1 rooms on %2 m²</source>
        <translation>%1 Räume auf %2 m²</translation>
    </message>
    <message>
        <source>%1 m ceiling</source>
        <translation>%1 m Raumhöhe</translation>
    </message>
    <message>
        <source>%1 was %2</source>
        <translation>%1 war %2</translation>
    </message>
    <message>
        <source>%1 terminals on</source>
        <translation>%1 Durchlässe dahinter</translation>
    </message>
    <message>
        <source>%1 by surplus</source>
        <translation>%1 nach Überschuss</translation>
    </message>
    <message>
        <source>%1 rooms that share control</source>
        <translation>%1 Räume mit gemeinsamer Regelung</translation>
    </message>
    <message>
        <source>%1 net</source>
        <translation>%1 netto</translation>
    </message>
    <message>
        <source>%1 segments, %2 terminals, %3 sizes pinned</source>
        <translation>%1 Strecken, %2 Durchlässe, %3 Größen festgesteckt</translation>
    </message>
    <message>
        <source>%1 m above the sea</source>
        <translation>%1 m über dem Meer</translation>
    </message>
    <message>
        <source>%1st of each month, clear sky, standard time</source>
        <translation>am %1. jedes Monats, klarer Himmel, Normalzeit</translation>
    </message>
    <message>
        <source>A or better</source>
        <translation>A oder besser</translation>
    </message>
    <message>
        <source>B or better</source>
        <translation>B oder besser</translation>
    </message>
    <message>
        <source>C or better</source>
        <translation>C oder besser</translation>
    </message>
    <message>
        <source>Add another</source>
        <translation>Noch eines dazu</translation>
    </message>
    <message>
        <source>After balancing</source>
        <translation>Nach dem Abgleich</translation>
    </message>
    <message>
        <source>Against earth</source>
        <translation>Gegen Erdreich</translation>
    </message>
    <message>
        <source>Air around them</source>
        <translation>Luft um sie</translation>
    </message>
    <message>
        <source>Air change</source>
        <translation>Luftwechsel</translation>
    </message>
    <message>
        <source>Air through it</source>
        <translation>Luft hindurch</translation>
    </message>
    <message>
        <source>Air without plant</source>
        <translation>Luft ohne Anlage</translation>
    </message>
    <message>
        <source>All</source>
        <translation>Alle</translation>
    </message>
    <message>
        <source>An orifice plate</source>
        <translation>Eine Lochblende</translation>
    </message>
    <message>
        <source>Another silencer</source>
        <translation>Ein weiterer Schalldämpfer</translation>
    </message>
    <message>
        <source>Any hour …</source>
        <translation>Beliebige Stunde …</translation>
    </message>
    <message>
        <source>Axes</source>
        <translation>Achsen</translation>
    </message>
    <message>
        <source>Axis</source>
        <translation>Achse</translation>
    </message>
    <message>
        <source>Back to the governing hour (Home)</source>
        <translation>Zurück zur maßgebenden Stunde (Pos1)</translation>
    </message>
    <message>
        <source>Back to the profile that ships</source>
        <translation>Zurück zum mitgelieferten Profil</translation>
    </message>
    <message>
        <source>Bar</source>
        <translation>Balken</translation>
    </message>
    <message>
        <source>Beam, normal</source>
        <translation>Direkt, senkrecht</translation>
    </message>
    <message>
        <source>Bends at the fan, k</source>
        <translation>Bögen am Ventilator, k</translation>
    </message>
    <message>
        <source>Between</source>
        <translation>Dazwischen</translation>
    </message>
    <message>
        <source>Bottom</source>
        <translation>Unten</translation>
    </message>
    <message>
        <source>Branch, greatest</source>
        <translation>Abzweig, größte</translation>
    </message>
    <message>
        <source>Branch, least</source>
        <translation>Abzweig, kleinste</translation>
    </message>
    <message>
        <source>Balance by resizing</source>
        <translation>Durch neue Größen</translation>
    </message>
    <message>
        <source>Bypass factor</source>
        <translation>Bypassfaktor</translation>
    </message>
    <message>
        <source>Ceiling zone</source>
        <translation>Deckenzone</translation>
    </message>
    <message>
        <source>Ceiling zone (C)</source>
        <translation>Deckenzone (C)</translation>
    </message>
    <message>
        <source>Checked</source>
        <translation>Geprüft</translation>
    </message>
    <message>
        <source>Class: margin on pressure</source>
        <translation>Klasse: Zuschlag auf den Druck</translation>
    </message>
    <message>
        <source>Clean, of this drop</source>
        <translation>Sauber, von diesem Verlust</translation>
    </message>
    <message>
        <source>Clock, UTC</source>
        <translation>Uhr, UTC</translation>
    </message>
    <message>
        <source>Close door</source>
        <translation>Seine Tür schließen</translation>
    </message>
    <message>
        <source>Coefficient beyond open</source>
        <translation>Beiwert über offen hinaus</translation>
    </message>
    <message>
        <source>Coil</source>
        <translation>Register</translation>
    </message>
    <message>
        <source>Coldest hour</source>
        <translation>Kälteste Stunde</translation>
    </message>
    <message>
        <source>Coldest surface</source>
        <translation>Kälteste Oberfläche</translation>
    </message>
    <message>
        <source>Condensate</source>
        <translation>Kondensat</translation>
    </message>
    <message>
        <source>Constant flow with reheat</source>
        <translation>Gleiche Luftmenge mit Nacherwärmung</translation>
    </message>
    <message>
        <source>constant flow with reheat</source>
        <translation>gleiche Luftmenge mit Nacherwärmung</translation>
    </message>
    <message>
        <source>Cooling at most</source>
        <translation>Kühlen höchstens</translation>
    </message>
    <message>
        <source>Cooling in</source>
        <translation>Kühlen in</translation>
    </message>
    <message>
        <source>Cooling shortfall</source>
        <translation>Kühlung fehlt</translation>
    </message>
    <message>
        <source>Copy by</source>
        <translation>Kopieren nach</translation>
    </message>
    <message>
        <source>Copy this derivation</source>
        <translation>Diese Herleitung kopieren</translation>
    </message>
    <message>
        <source>Corners</source>
        <translation>Ecken</translation>
    </message>
    <message>
        <source>Costs</source>
        <translation>Kostet</translation>
    </message>
    <message>
        <source>Damper, open</source>
        <translation>Klappe, offen</translation>
    </message>
    <message>
        <source>Dampers</source>
        <translation>Klappen</translation>
    </message>
    <message>
        <source>Dampers set / open</source>
        <translation>Klappen gestellt / offen</translation>
    </message>
    <message>
        <source>Day</source>
        <translation>Tag</translation>
    </message>
    <message>
        <source>day</source>
        <translation>Tag</translation>
    </message>
    <message>
        <source>Day of the peak</source>
        <translation>Tag der Spitze</translation>
    </message>
    <message>
        <source>Design day of Jul</source>
        <translation>Auslegungstag Juli</translation>
    </message>
    <message>
        <source>Difference</source>
        <translation>Unterschied</translation>
    </message>
    <message>
        <source>Diffuse horizontal</source>
        <translation>Diffus, waagerecht</translation>
    </message>
    <message>
        <source>Diversity</source>
        <translation>Gleichzeitigkeit</translation>
    </message>
    <message>
        <source>Draw a surrounding building that casts shadows</source>
        <translation>Nachbarkörper zeichnen, der Schatten wirft</translation>
    </message>
    <message>
        <source>Drive</source>
        <translation>Antrieb</translation>
    </message>
    <message>
        <source>Duct surface</source>
        <translation>Kanaloberfläche</translation>
    </message>
    <message>
        <source>Duct ø%1</source>
        <translation>Kanal ø%1</translation>
    </message>
    <message>
        <source>Ducts, index run %1b</source>
        <translation>Kanäle, ungünstigst %1b</translation>
    </message>
    <message>
        <source>Efficiency to the air</source>
        <translation>Wirkungsgrad in die Luft</translation>
    </message>
    <message>
        <source>Elbow</source>
        <translation>Bogen</translation>
    </message>
    <message>
        <source>Elbow rect radius</source>
        <translation>Bogen, rechteckig, gerundet</translation>
    </message>
    <message>
        <source>Electric</source>
        <translation>Elektrisch</translation>
    </message>
    <message>
        <source>Electricity, per kWh</source>
        <translation>Strom, je kWh</translation>
    </message>
    <message>
        <source>Elevation</source>
        <translation>Höhenlage</translation>
    </message>
    <message>
        <source>Enclosed, in no room</source>
        <translation>Umschlossen, in keinem Raum</translation>
    </message>
    <message>
        <source>Equip.</source>
        <translation>Geräte</translation>
    </message>
    <message>
        <source>Estimates</source>
        <translation>Schätzungen</translation>
    </message>
    <message>
        <source>Every store room</source>
        <translation>Jeder Lagerraum</translation>
    </message>
    <message>
        <source>Exhaust louvre</source>
        <translation>Fortluftgitter</translation>
    </message>
    <message>
        <source>Fan and speed back to the rule</source>
        <translation>Ventilator und Drehzahl zurück zur Regel</translation>
    </message>
    <message>
        <source>Fan runs, h a year</source>
        <translation>Ventilator läuft, h im Jahr</translation>
    </message>
    <message>
        <source>Figures</source>
        <translation>Werte</translation>
    </message>
    <message>
        <source>Filter, half loaded</source>
        <translation>Filter, halb beladen</translation>
    </message>
    <message>
        <source>Fin, left outside</source>
        <translation>Seitenblende links außen</translation>
    </message>
    <message>
        <source>Fin, right outside</source>
        <translation>Seitenblende rechts außen</translation>
    </message>
    <message>
        <source>Fittings before them</source>
        <translation>Formstücke davor</translation>
    </message>
    <message>
        <source>Fittings before it</source>
        <translation>Formstücke davor</translation>
    </message>
    <message>
        <source>Flat side</source>
        <translation>Flache Seite</translation>
    </message>
    <message>
        <source>Compressed flexible duct</source>
        <translation>Schlauch, gestaucht</translation>
    </message>
    <message>
        <source>Floor area</source>
        <translation>Bodenfläche</translation>
    </message>
    <message>
        <source>Floor by the drawing</source>
        <translation>Boden nach Zeichnung</translation>
    </message>
    <message>
        <source>Floor each person</source>
        <translation>Boden je Person</translation>
    </message>
    <message>
        <source>Floor in rooms</source>
        <translation>Boden in Räumen</translation>
    </message>
    <message>
        <source>Flow and pressure</source>
        <translation>Luftmenge und Druck</translation>
    </message>
    <message>
        <source>Flow for</source>
        <translation>Luftmenge für</translation>
    </message>
    <message>
        <source>For</source>
        <translation>Für</translation>
    </message>
    <message>
        <source>Free</source>
        <translation>Frei</translation>
    </message>
    <message>
        <source>Friction from</source>
        <translation>Reibung aus</translation>
    </message>
    <message>
        <source>Friction, greatest</source>
        <translation>Reibung, größte</translation>
    </message>
    <message>
        <source>Friction, least</source>
        <translation>Reibung, kleinste</translation>
    </message>
    <message>
        <source>Frost limit, exhaust side</source>
        <translation>Frostgrenze, Fortluftseite</translation>
    </message>
    <message>
        <source>Furthest from its flow</source>
        <translation>Am weitesten von der Menge</translation>
    </message>
    <message>
        <source>Gap below overhang</source>
        <translation>Abstand unter dem Überstand</translation>
    </message>
    <message>
        <source>Give it supply air</source>
        <translation>Ihm Zuluft geben</translation>
    </message>
    <message>
        <source>Glass g %1</source>
        <translation>Glas g %1</translation>
    </message>
    <message>
        <source>Greatest size</source>
        <translation>Größte Größe</translation>
    </message>
    <message>
        <source>Greatest sun of the year</source>
        <translation>Größte Sonne des Jahres</translation>
    </message>
    <message>
        <source>Group</source>
        <translation>Gruppe</translation>
    </message>
    <message>
        <source>Heat reaching the air</source>
        <translation>Wärme, die in die Luft kommt</translation>
    </message>
    <message>
        <source>Heat recovery, rotor</source>
        <translation>Wärmerückgewinnung, Rotor</translation>
    </message>
    <message>
        <source>Heating at most</source>
        <translation>Heizen höchstens</translation>
    </message>
    <message>
        <source>Heating in</source>
        <translation>Heizen in</translation>
    </message>
    <message>
        <source>Height held</source>
        <translation>Höhe gehalten</translation>
    </message>
    <message>
        <source>Height, if fixed</source>
        <translation>Höhe, wenn fest</translation>
    </message>
    <message>
        <source>Heights</source>
        <translation>Höhen</translation>
    </message>
    <message>
        <source>Held at</source>
        <translation>Gehalten auf</translation>
    </message>
    <message>
        <source>Hole through it, height</source>
        <translation>Öffnung darin, Höhe</translation>
    </message>
    <message>
        <source>Humidity limit</source>
        <translation>Feuchtegrenze</translation>
    </message>
    <message>
        <source>Humidity, at least</source>
        <translation>Feuchte, mindestens</translation>
    </message>
    <message>
        <source>Humidity, at most</source>
        <translation>Feuchte, höchstens</translation>
    </message>
    <message>
        <source>Without this component</source>
        <translation>Wenn es weg wäre</translation>
    </message>
    <message>
        <source>Import</source>
        <translation>Einlesen</translation>
    </message>
    <message>
        <source>In room</source>
        <translation>Im Raum</translation>
    </message>
    <message>
        <source>In the way</source>
        <translation>Im Weg</translation>
    </message>
    <message>
        <source>Infiltration, edge</source>
        <translation>Infiltration, Rand</translation>
    </message>
    <message>
        <source>Inside</source>
        <translation>Innen</translation>
    </message>
    <message>
        <source>Insulation</source>
        <translation>Dämmung</translation>
    </message>
    <message>
        <source>Interest</source>
        <translation>Zins</translation>
    </message>
    <message>
        <source>Its hours are not beside the project</source>
        <translation>Seine Stunden liegen nicht beim Projekt</translation>
    </message>
    <message>
        <source>Its room</source>
        <translation>Sein Raum</translation>
    </message>
    <message>
        <source>Its zone</source>
        <translation>Seine Zone</translation>
    </message>
    <message>
        <source>Keep edits against a crash</source>
        <translation>Änderungen gegen Absturz sichern</translation>
    </message>
    <message>
        <source>Clearance</source>
        <translation>Frei gehalten</translation>
    </message>
    <message>
        <source>Kind</source>
        <translation>Art</translation>
    </message>
    <message>
        <source>Runout, greatest</source>
        <translation>Letztes Stück, größte</translation>
    </message>
    <message>
        <source>Runout, least</source>
        <translation>Letztes Stück, kleinste</translation>
    </message>
    <message>
        <source>Leakage</source>
        <translation>Undichtheit</translation>
    </message>
    <message>
        <source>Least size</source>
        <translation>Kleinste Größe</translation>
    </message>
    <message>
        <source>Left</source>
        <translation>Links</translation>
    </message>
    <message>
        <source>left</source>
        <translation>links</translation>
    </message>
    <message>
        <source>Exploded view</source>
        <translation>Abgehobene Geschosse</translation>
    </message>
    <message>
        <source>Life, years</source>
        <translation>Lebensdauer, Jahre</translation>
    </message>
    <message>
        <source>Loaded, of this drop</source>
        <translation>Beladen, von diesem Verlust</translation>
    </message>
    <message>
        <source>Loss</source>
        <translation>Verlust</translation>
    </message>
    <message>
        <source>Low</source>
        <translation>Niedrig</translation>
    </message>
    <message>
        <source>Lower edge</source>
        <translation>Unterkante</translation>
    </message>
    <message>
        <source>Made of</source>
        <translation>Besteht aus</translation>
    </message>
    <message>
        <source>Make a room of a space in the drawing below</source>
        <translation>Aus einer Fläche der Zeichnung darunter einen Raum machen</translation>
    </message>
    <message>
        <source>Make-up</source>
        <translation>Nachströmen</translation>
    </message>
    <message>
        <source>Margin on pressure</source>
        <translation>Zuschlag auf den Druck</translation>
    </message>
    <message>
        <source>May to September</source>
        <translation>Mai bis September</translation>
    </message>
    <message>
        <source>October to April</source>
        <translation>Oktober bis April</translation>
    </message>
    <message>
        <source>Measures</source>
        <translation>Maße</translation>
    </message>
    <message>
        <source>Middle, along the wall</source>
        <translation>Mitte, entlang der Wand</translation>
    </message>
    <message>
        <source>Mix</source>
        <translation>Mischen</translation>
    </message>
    <message>
        <source>Model</source>
        <translation>Modell</translation>
    </message>
    <message>
        <source>Moisture ratio</source>
        <translation>Feuchteverhältnis</translation>
    </message>
    <message>
        <source>Moisture, latent</source>
        <translation>Feuchte, latent</translation>
    </message>
    <message>
        <source>More</source>
        <translation>Mehr</translation>
    </message>
    <message>
        <source>Motor and control</source>
        <translation>Motor und Regelung</translation>
    </message>
    <message>
        <source>Neck velocity</source>
        <translation>Halsgeschwindigkeit</translation>
    </message>
    <message>
        <source>Needs</source>
        <translation>Bedarf</translation>
    </message>
    <message>
        <source>Net, between walls</source>
        <translation>Netto, zwischen Wänden</translation>
    </message>
    <message>
        <source>No labels</source>
        <translation>Ohne Beschriftung</translation>
    </message>
    <message>
        <source>No plant, warmest air</source>
        <translation>Ohne Anlage, wärmste Luft</translation>
    </message>
    <message>
        <source>Obstacle</source>
        <translation>Hindernis</translation>
    </message>
    <message>
        <source>Obstacle (B)</source>
        <translation>Hindernis (B)</translation>
    </message>
    <message>
        <source>Of its reach</source>
        <translation>Seiner Reichweite</translation>
    </message>
    <message>
        <source>Of the unit</source>
        <translation>Des Geräts</translation>
    </message>
    <message>
        <source>Open a CSV or XLSX file …</source>
        <translation>CSV- oder XLSX-Datei öffnen …</translation>
    </message>
    <message>
        <source>Open the last project at the start</source>
        <translation>Beim Start das letzte Projekt öffnen</translation>
    </message>
    <message>
        <source>Outdoor air with room units</source>
        <translation>Außenluft mit Raumgeräten</translation>
    </message>
    <message>
        <source>Outdoor louvre</source>
        <translation>Außenluftgitter</translation>
    </message>
    <message>
        <source>Outside wall, west</source>
        <translation>Außenwand, Westen</translation>
    </message>
    <message>
        <source>Outside wall, east</source>
        <translation>Außenwand, Osten</translation>
    </message>
    <message>
        <source>Outside wall, north</source>
        <translation>Außenwand, Norden</translation>
    </message>
    <message>
        <source>Outside wall, south</source>
        <translation>Außenwand, Süden</translation>
    </message>
    <message>
        <source>Own catalogue …</source>
        <translation>Eigener Katalog …</translation>
    </message>
    <message>
        <source>Own unit for %1 rooms</source>
        <translation>Eigenes Gerät für %1 Räume</translation>
    </message>
    <message>
        <source>Paint rooms into a zone or an air system</source>
        <translation>Räume in eine Zone oder Luftanlage malen</translation>
    </message>
    <message>
        <source>Part %1 of %2</source>
        <translation>Teil %1 von %2</translation>
    </message>
    <message>
        <source>Parts of the unit</source>
        <translation>Teile des Geräts</translation>
    </message>
    <message>
        <source>People are</source>
        <translation>Personen sind</translation>
    </message>
    <message>
        <source>People each m²</source>
        <translation>Personen je m²</translation>
    </message>
    <message>
        <source>Place in rooms</source>
        <translation>In Räume setzen</translation>
    </message>
    <message>
        <source>Plant</source>
        <translation>Anlage</translation>
    </message>
    <message>
        <source>Pressure drop, exhaust</source>
        <translation>Druckverlust, Fortluft</translation>
    </message>
    <message>
        <source>Pressure it takes</source>
        <translation>Druck, den sie nimmt</translation>
    </message>
    <message>
        <source>Print …</source>
        <translation>Drucken …</translation>
    </message>
    <message>
        <source>Process</source>
        <translation>Vorgang</translation>
    </message>
    <message>
        <source>Discard</source>
        <translation>Weglegen</translation>
    </message>
    <message>
        <source>Put doors on walls</source>
        <translation>Türen in Wände setzen</translation>
    </message>
    <message>
        <source>Put in another part …</source>
        <translation>Weiteren Teil einsetzen …</translation>
    </message>
    <message>
        <source>Put the weather file away</source>
        <translation>Wetterdatei weglegen</translation>
    </message>
    <message>
        <source>Put windows on walls</source>
        <translation>Fenster in Wände setzen</translation>
    </message>
    <message>
        <source>Range of the wet bulb</source>
        <translation>Gang der Feuchtkugel</translation>
    </message>
    <message>
        <source>Rectangle</source>
        <translation>Rechteck</translation>
    </message>
    <message>
        <source>Rectangular elbows</source>
        <translation>Rechteckige Bögen</translation>
    </message>
    <message>
        <source>Remove these ducts</source>
        <translation>Diese Kanäle entfernen</translation>
    </message>
    <message>
        <source>Remove this obstacle</source>
        <translation>Dieses Hindernis entfernen</translation>
    </message>
    <message>
        <source>Remove this row</source>
        <translation>Diese Zeile entfernen</translation>
    </message>
    <message>
        <source>Reserve</source>
        <translation>Reserve</translation>
    </message>
    <message>
        <source>Return from rooms, %1 L/s</source>
        <translation>Rückluft aus Räumen, %1 L/s</translation>
    </message>
    <message>
        <source>Right</source>
        <translation>Rechts</translation>
    </message>
    <message>
        <source>right</source>
        <translation>rechts</translation>
    </message>
    <message>
        <source>Riser, greatest</source>
        <translation>Steigkanal, größte</translation>
    </message>
    <message>
        <source>Room with it, limit NC %1</source>
        <translation>Raum damit, Grenze NC %1</translation>
    </message>
    <message>
        <source>Rooms above their noise limit</source>
        <translation>Räume über ihrer Schallgrenze</translation>
    </message>
    <message>
        <source>Rooms at their common worst hour</source>
        <translation>Räume zu ihrer gemeinsamen schlimmsten Stunde</translation>
    </message>
    <message>
        <source>All rooms of the drawing below</source>
        <translation>Alle Räume der Zeichnung darunter</translation>
    </message>
    <message>
        <source>They are square metres</source>
        <translation>Es sind Quadratmeter</translation>
    </message>
    <message>
        <source>They are square feet</source>
        <translation>Es sind Quadratfuß</translation>
    </message>
    <message>
        <source>Sheets of the workbook that hold rows</source>
        <translation>Blätter der Arbeitsmappe mit Zeilen</translation>
    </message>
    <message>
        <source>others</source>
        <translation>andere Gewerke</translation>
    </message>
    <message>
        <source>Ducts, pipes, trays and beams that came from files</source>
        <translation>Kanäle, Rohre, Trassen und Träger aus Dateien</translation>
    </message>
    <message>
        <source>Drawn by others, in the way of ducts:</source>
        <translation>Von anderen gezeichnet, den Kanälen im Weg:</translation>
    </message>
    <message>
        <source>Rooms from a list</source>
        <translation>Räume aus einer Liste</translation>
    </message>
    <message>
        <source>Rooms short of a need</source>
        <translation>Räume, denen etwas fehlt</translation>
    </message>
    <message>
        <source>Rooms with this fan</source>
        <translation>Räume mit diesem Ventilator</translation>
    </message>
    <message>
        <source>Rooms, latent</source>
        <translation>Räume, latent</translation>
    </message>
    <message>
        <source>Rooms, sensible</source>
        <translation>Räume, sensibel</translation>
    </message>
    <message>
        <source>Round elbows</source>
        <translation>Runde Bögen</translation>
    </message>
    <message>
        <source>Rules for ducts</source>
        <translation>Regeln für Kanäle</translation>
    </message>
    <message>
        <source>Run by parts</source>
        <translation>Strang nach Teilen</translation>
    </message>
    <message>
        <source>Run the year</source>
        <translation>Das Jahr rechnen</translation>
    </message>
    <message>
        <source>Scale the underlay by two points</source>
        <translation>Unterlage nach zwei Punkten skalieren</translation>
    </message>
    <message>
        <source>Section length, rectangular</source>
        <translation>Stücklänge, rechteckig</translation>
    </message>
    <message>
        <source>Section length, round</source>
        <translation>Stücklänge, rund</translation>
    </message>
    <message>
        <source>Segment s%1</source>
        <translation>Strecke s%1</translation>
    </message>
    <message>
        <source>Segmented round elbow</source>
        <translation>Segmentbogen, rund</translation>
    </message>
    <message>
        <source>Selected</source>
        <translation>Gewählt</translation>
    </message>
    <message>
        <source>Shade</source>
        <translation>Sonnenschutz</translation>
    </message>
    <message>
        <source>Share of frame</source>
        <translation>Rahmenanteil</translation>
    </message>
    <message>
        <source>Share of the air</source>
        <translation>Anteil der Luft</translation>
    </message>
    <message>
        <source>Share of the room’s air</source>
        <translation>Anteil an der Luft des Raums</translation>
    </message>
    <message>
        <source>Sheet and fixing, per m²</source>
        <translation>Blech und Montage, je m²</translation>
    </message>
    <message>
        <source>Short of criterion</source>
        <translation>Es fehlt</translation>
    </message>
    <message>
        <source>Show it</source>
        <translation>Zeigen</translation>
    </message>
    <message>
        <source>Close duct</source>
        <translation>Seinen Kanal schließen</translation>
    </message>
    <message>
        <source>Single zone, constant flow</source>
        <translation>Eine Zone, gleiche Luftmenge</translation>
    </message>
    <message>
        <source>Sizes</source>
        <translation>Größen</translation>
    </message>
    <message>
        <source>Sizing rule</source>
        <translation>Bemessungsregel</translation>
    </message>
    <message>
        <source>Slot</source>
        <translation>Schlitz</translation>
    </message>
    <message>
        <source>Smooth-radius round elbow</source>
        <translation>Runder Bogen, glatt</translation>
    </message>
    <message>
        <source>Sound</source>
        <translation>Schall</translation>
    </message>
    <message>
        <source>Specific</source>
        <translation>Spezifisch</translation>
    </message>
    <message>
        <source>Split a room by a line</source>
        <translation>Raum an einer Linie teilen</translation>
    </message>
    <message>
        <source>Duct mass</source>
        <translation>Stahl</translation>
    </message>
    <message>
        <source>Steps of width</source>
        <translation>Breitenschritte</translation>
    </message>
    <message>
        <source>Storey height</source>
        <translation>Geschosshöhe</translation>
    </message>
    <message>
        <source>Straight duct behind</source>
        <translation>Gerader Kanal dahinter</translation>
    </message>
    <message>
        <source>Structure</source>
        <translation>Rohdecke</translation>
    </message>
    <message>
        <source>Sum of room peaks</source>
        <translation>Summe der Raumspitzen</translation>
    </message>
    <message>
        <source>Summer design</source>
        <translation>Auslegung Sommer</translation>
    </message>
    <message>
        <source>Sun factor g</source>
        <translation>g-Wert</translation>
    </message>
    <message>
        <source>g-value</source>
        <translation>g</translation>
    </message>
    <message>
        <source>Solar absorptance</source>
        <translation>Sonne aufgenommen</translation>
    </message>
    <message>
        <source>Supply is</source>
        <translation>Zuluft ist</translation>
    </message>
    <message>
        <source>Surface</source>
        <translation>Oberfläche</translation>
    </message>
    <message>
        <source>Take air from</source>
        <translation>Luft nehmen von</translation>
    </message>
    <message>
        <source>Remove from the unit</source>
        <translation>Aus dem Gerät nehmen</translation>
    </message>
    <message>
        <source>Apply these sizes</source>
        <translation>Diese Größen nehmen</translation>
    </message>
    <message>
        <source>Apply weather and place</source>
        <translation>Wetter und Ort nehmen</translation>
    </message>
    <message>
        <source>Take-off</source>
        <translation>Mengenauszug</translation>
    </message>
    <message>
        <source>Takeoff conical</source>
        <translation>Abzweig, konisch</translation>
    </message>
    <message>
        <source>Takeoff shoe %1</source>
        <translation>Abzweig mit Schuh %1</translation>
    </message>
    <message>
        <source>Takeoffs, return</source>
        <translation>Abzweige, Rückluft</translation>
    </message>
    <message>
        <source>Takeoffs, supply</source>
        <translation>Abzweige, Zuluft</translation>
    </message>
    <message>
        <source>Tee div %1</source>
        <translation>T-Stück, trennend %1</translation>
    </message>
    <message>
        <source>Tee div bullhead</source>
        <translation>T-Stück, beidseitig</translation>
    </message>
    <message>
        <source>Tee straight</source>
        <translation>T-Stück, Durchgang</translation>
    </message>
    <message>
        <source>Temperature ratio</source>
        <translation>Temperaturverhältnis</translation>
    </message>
    <message>
        <source>Terminal %1a</source>
        <translation>Durchlass %1a</translation>
    </message>
    <message>
        <source>Terminal %1b</source>
        <translation>Durchlass %1b</translation>
    </message>
    <message>
        <source>The fan is loudest there. %1 more rooms are above theirs.</source>
        <translation>Der Ventilator ist dort am lautesten. %1 weitere Räume liegen über ihrer Grenze.</translation>
    </message>
    <message>
        <source>The index run sets the fan; a step taken out of it lowers all.</source>
        <translation>Der ungünstigste Strang bestimmt den Ventilator; eine Stufe weniger senkt alles.</translation>
    </message>
    <message>
        <source>The recovery is unbalanced</source>
        <translation>Die Rückgewinnung ist unausgeglichen</translation>
    </message>
    <message>
        <source>Thickness</source>
        <translation>Dicke</translation>
    </message>
    <message>
        <source>Throw to %1 m/s</source>
        <translation>Wurfweite bis %1 m/s</translation>
    </message>
    <message>
        <source>Tip</source>
        <translation>Spitze</translation>
    </message>
    <message>
        <source>To</source>
        <translation>Nach</translation>
    </message>
    <message>
        <source>To ceiling grid</source>
        <translation>Ins Deckenraster</translation>
    </message>
    <message>
        <source>Together</source>
        <translation>Zusammen</translation>
    </message>
    <message>
        <source>together</source>
        <translation>zusammen</translation>
    </message>
    <message>
        <source>Top</source>
        <translation>Oben</translation>
    </message>
    <message>
        <source>Total</source>
        <translation>Gesamt</translation>
    </message>
    <message>
        <source>Unit</source>
        <translation>Gerät</translation>
    </message>
    <message>
        <source>Transmittance</source>
        <translation>Durchlass</translation>
    </message>
    <message>
        <source>Trunk from the unit</source>
        <translation>Hauptkanal vom Gerät</translation>
    </message>
    <message>
        <source>Trunk reduced after</source>
        <translation>Hauptkanal verjüngt nach</translation>
    </message>
    <message>
        <source>Trunk, greatest</source>
        <translation>Hauptkanal, größte</translation>
    </message>
    <message>
        <source>Trunk, least</source>
        <translation>Hauptkanal, kleinste</translation>
    </message>
    <message>
        <source>Try again</source>
        <translation>Noch einmal</translation>
    </message>
    <message>
        <source>U-value of frame</source>
        <translation>U-Wert des Rahmens</translation>
    </message>
    <message>
        <source>U-value, whole</source>
        <translation>U-Wert, gesamt</translation>
    </message>
    <message>
        <source>Damper pressure at the noise limit</source>
        <translation>Unhörbar bis</translation>
    </message>
    <message>
        <source>Units of a new window</source>
        <translation>Einheiten eines neuen Fensters</translation>
    </message>
    <message>
        <source>Upper edge</source>
        <translation>Oberkante</translation>
    </message>
    <message>
        <source>Use and plant</source>
        <translation>Nutzung und Anlage</translation>
    </message>
    <message>
        <source>Variable flow with reheat</source>
        <translation>Veränderliche Luftmenge mit Nacherwärmung</translation>
    </message>
    <message>
        <source>Velocities</source>
        <translation>Geschwindigkeiten</translation>
    </message>
    <message>
        <source>Velocity, greatest</source>
        <translation>Geschwindigkeit, größte</translation>
    </message>
    <message>
        <source>Ventilation with heating</source>
        <translation>Lüftung mit Heizung</translation>
    </message>
    <message>
        <source>Void over ceiling</source>
        <translation>Hohlraum über der Decke</translation>
    </message>
    <message>
        <source>Volume</source>
        <translation>Volumen</translation>
    </message>
    <message>
        <source>Wall centres</source>
        <translation>Wandachsen</translation>
    </message>
    <message>
        <source>Warm-up</source>
        <translation>Aufheizen</translation>
    </message>
    <message>
        <source>Above set-point</source>
        <translation>Wärmer um</translation>
    </message>
    <message>
        <source>Warmer than room by</source>
        <translation>Wärmer als der Raum um</translation>
    </message>
    <message>
        <source>Warmest</source>
        <translation>Wärmste</translation>
    </message>
    <message>
        <source>Warmest hour</source>
        <translation>Wärmste Stunde</translation>
    </message>
    <message>
        <source>Sizing methods</source>
        <translation>Wege der Bemessung</translation>
    </message>
    <message>
        <source>What each need asks for</source>
        <translation>Was jeder Bedarf verlangt</translation>
    </message>
    <message>
        <source>Most effective changes</source>
        <translation>Was am meisten hilft</translation>
    </message>
    <message>
        <source>What it does</source>
        <translation>Was sie tut</translation>
    </message>
    <message>
        <source>Required fan pressure</source>
        <translation>Was er heben muss</translation>
    </message>
    <message>
        <source>Pressure breakdown of its %1 Pa</source>
        <translation>Wohin seine %1 Pa gehen</translation>
    </message>
    <message>
        <source>Greatest excess pressure</source>
        <translation>Größter Überschuss</translation>
    </message>
    <message>
        <source>Width held</source>
        <translation>Breite gehalten</translation>
    </message>
    <message>
        <source>Width to height, at most</source>
        <translation>Breite zu Höhe, höchstens</translation>
    </message>
    <message>
        <source>Winter design</source>
        <translation>Auslegung Winter</translation>
    </message>
    <message>
        <source>a second pass</source>
        <translation>ein zweiter Durchgang</translation>
    </message>
    <message>
        <source>air change</source>
        <translation>Luftwechsel</translation>
    </message>
    <message>
        <source>all %1</source>
        <translation>alle %1</translation>
    </message>
    <message>
        <source>all what-ifs</source>
        <translation>alle Was-wäre-wenn</translation>
    </message>
    <message>
        <source>alone</source>
        <translation>allein</translation>
    </message>
    <message>
        <source>always</source>
        <translation>immer</translation>
    </message>
    <message>
        <source>any</source>
        <translation>jeder Druck</translation>
    </message>
    <message>
        <source>as every other path</source>
        <translation>wie jeder andere Weg</translation>
    </message>
    <message>
        <source>as the air system</source>
        <translation>wie die Luftanlage</translation>
    </message>
    <message>
        <source>as the desktop has it</source>
        <translation>wie der Arbeitsplatz</translation>
    </message>
    <message>
        <source>critical-room reset</source>
        <translation>wie der bedürftigste Raum</translation>
    </message>
    <message>
        <source>as the room's use</source>
        <translation>wie die Nutzung des Raums</translation>
    </message>
    <message>
        <source>as the rooms need</source>
        <translation>wie die Räume brauchen</translation>
    </message>
    <message>
        <source>as the use has it</source>
        <translation>wie die Nutzung</translation>
    </message>
    <message>
        <source>at</source>
        <translation>bei</translation>
    </message>
    <message>
        <source>at %1 m³/s</source>
        <translation>bei %1 m³/s</translation>
    </message>
    <message>
        <source>at once</source>
        <translation>sofort</translation>
    </message>
    <message>
        <source>at the start of its duct</source>
        <translation>am Anfang ihres Kanals</translation>
    </message>
    <message>
        <source>at the unit</source>
        <translation>am Gerät</translation>
    </message>
    <message>
        <source>at their starts</source>
        <translation>an ihren Anfängen</translation>
    </message>
    <message>
        <source>at %1 °C</source>
        <translation>bei %1 °C</translation>
    </message>
    <message>
        <source>between two hours</source>
        <translation>zwischen zwei Stunden</translation>
    </message>
    <message>
        <source>black steel</source>
        <translation>Schwarzblech</translation>
    </message>
    <message>
        <source>blind or screen</source>
        <translation>Jalousie oder Stoff</translation>
    </message>
    <message>
        <source>bottom</source>
        <translation>unten</translation>
    </message>
    <message>
        <source>by list or typed</source>
        <translation>aus Liste oder getippt</translation>
    </message>
    <message>
        <source>by role</source>
        <translation>nach Rolle</translation>
    </message>
    <message>
        <source>by role and noise limit</source>
        <translation>nach Rolle und Schallgrenze</translation>
    </message>
    <message>
        <source>by rule: B</source>
        <translation>nach Regel: B</translation>
    </message>
    <message>
        <source>by rule: galvanised</source>
        <translation>nach Regel: verzinkt</translation>
    </message>
    <message>
        <source>by rule: every room gets its flow ±%1 %</source>
        <translation>nach Regel: jeder Raum bekommt seine Menge ±%1 %</translation>
    </message>
    <message>
        <source>by shape and angle</source>
        <translation>nach Form und Winkel</translation>
    </message>
    <message>
        <source>by temperature</source>
        <translation>nach Temperatur</translation>
    </message>
    <message>
        <source>category I</source>
        <translation>Kategorie I</translation>
    </message>
    <message>
        <source>category II</source>
        <translation>Kategorie II</translation>
    </message>
    <message>
        <source>category III</source>
        <translation>Kategorie III</translation>
    </message>
    <message>
        <source>category IV</source>
        <translation>Kategorie IV</translation>
    </message>
    <message>
        <source>ceiling</source>
        <translation>Decke</translation>
    </message>
    <message>
        <source>changes hold for all</source>
        <translation>Änderungen gelten für alle</translation>
    </message>
    <message>
        <source>class A</source>
        <translation>Klasse A</translation>
    </message>
    <message>
        <source>class B</source>
        <translation>Klasse B</translation>
    </message>
    <message>
        <source>class C</source>
        <translation>Klasse C</translation>
    </message>
    <message>
        <source>class D</source>
        <translation>Klasse D</translation>
    </message>
    <message>
        <source>clean</source>
        <translation>sauber</translation>
    </message>
    <message>
        <source>click a month to change it</source>
        <translation>Klick auf einen Monat ändert ihn</translation>
    </message>
    <message>
        <source>click a part for its figures</source>
        <translation>Klick auf einen Teil zeigt seine Werte</translation>
    </message>
    <message>
        <source>click for height</source>
        <translation>Klick für die Höhe</translation>
    </message>
    <message>
        <source>click to apply</source>
        <translation>Klick wendet an</translation>
    </message>
    <message>
        <source>concrete, smooth</source>
        <translation>Beton, glatt</translation>
    </message>
    <message>
        <source>constant</source>
        <translation>gleich</translation>
    </message>
    <message>
        <source>constant friction, %1 Pa/m</source>
        <translation>gleiche Reibung, %1 Pa/m</translation>
    </message>
    <message>
        <source>cooling governs</source>
        <translation>Kühlen bestimmt</translation>
    </message>
    <message>
        <source>heating governs</source>
        <translation>Heizen bestimmt</translation>
    </message>
    <message>
        <source>outdoor air governs</source>
        <translation>Außenluft bestimmt</translation>
    </message>
    <message>
        <source>air change governs</source>
        <translation>Luftwechsel bestimmt</translation>
    </message>
    <message>
        <source>cooling, %1 Aug</source>
        <translation>Kühlen, %1. Aug.</translation>
    </message>
    <message>
        <source>cooling, %1 Jul</source>
        <translation>Kühlen, %1. Juli</translation>
    </message>
    <message>
        <source>corners</source>
        <translation>Ecken</translation>
    </message>
    <message>
        <source>damper takes it</source>
        <translation>Klappe nimmt es</translation>
    </message>
    <message>
        <source>its damper takes it</source>
        <translation>seine Klappe nimmt es</translation>
    </message>
    <message>
        <source>dark</source>
        <translation>dunkel</translation>
    </message>
    <message>
        <source>light</source>
        <translation>hell</translation>
    </message>
    <message>
        <source>displacement unit, low</source>
        <translation>Quelldurchlass, niedrig</translation>
    </message>
    <message>
        <source>door</source>
        <translation>Tür</translation>
    </message>
    <message>
        <source>dry bulb</source>
        <translation>Trockenkugel</translation>
    </message>
    <message>
        <source>wet bulb</source>
        <translation>Feuchtkugel</translation>
    </message>
    <message>
        <source>wet bulb, °C</source>
        <translation>Feuchtkugel, °C</translation>
    </message>
    <message>
        <source>duty %1 m³/s, %2 Pa</source>
        <translation>Aufgabe %1 m³/s, %2 Pa</translation>
    </message>
    <message>
        <source>economiser, dry bulb</source>
        <translation>freie Kühlung, Trockenkugel</translation>
    </message>
    <message>
        <source>economiser, enthalpy</source>
        <translation>freie Kühlung, Enthalpie</translation>
    </message>
    <message>
        <source>entering in the hour</source>
        <translation>in der Stunde eintretend</translation>
    </message>
    <message>
        <source>evening</source>
        <translation>Abend</translation>
    </message>
    <message>
        <source>night</source>
        <translation>Nacht</translation>
    </message>
    <message>
        <source>fibre board</source>
        <translation>Faserplatte</translation>
    </message>
    <message>
        <source>flexible</source>
        <translation>Schlauch</translation>
    </message>
    <message>
        <source>flexible, metal</source>
        <translation>Metallschlauch</translation>
    </message>
    <message>
        <source>follows the load</source>
        <translation>folgt der Last</translation>
    </message>
    <message>
        <source>for ducts</source>
        <translation>für Kanäle</translation>
    </message>
    <message>
        <source>from the library …</source>
        <translation>aus der Bibliothek …</translation>
    </message>
    <message>
        <source>from the next start on</source>
        <translation>ab dem nächsten Start</translation>
    </message>
    <message>
        <source>galvanised, short joints</source>
        <translation>verzinkt, kurze Stöße</translation>
    </message>
    <message>
        <source>glass alone</source>
        <translation>nur Glas</translation>
    </message>
    <message>
        <source>glass wall</source>
        <translation>Glaswand</translation>
    </message>
    <message>
        <source>heating kW cooling</source>
        <translation>Heizen kW Kühlen</translation>
    </message>
    <message>
        <source>heights above the floor</source>
        <translation>Höhen über dem Boden</translation>
    </message>
    <message>
        <source>constant supply temperature</source>
        <translation>an den Räumen gehalten</translation>
    </message>
    <message>
        <source>constant coil leaving temperature</source>
        <translation>hinter dem Register gehalten</translation>
    </message>
    <message>
        <source>inch sizes</source>
        <translation>Zollgrößen</translation>
    </message>
    <message>
        <source>inside blind</source>
        <translation>Innenjalousie</translation>
    </message>
    <message>
        <source>outside blind</source>
        <translation>Außenjalousie</translation>
    </message>
    <message>
        <source>joints</source>
        <translation>Stöße</translation>
    </message>
    <message>
        <source>keeps the humidity limit</source>
        <translation>hält die Feuchtegrenze</translation>
    </message>
    <message>
        <source>latent</source>
        <translation>latent</translation>
    </message>
    <message>
        <source>leaks into the ceiling void</source>
        <translation>undicht in den Deckenhohlraum</translation>
    </message>
    <message>
        <source>leaks outdoors</source>
        <translation>undicht nach außen</translation>
    </message>
    <message>
        <source>least outdoor air</source>
        <translation>Mindestaußenluft</translation>
    </message>
    <message>
        <source>limit %1</source>
        <translation>Grenze %1</translation>
    </message>
    <message>
        <source>limit NC %1</source>
        <translation>Grenze NC %1</translation>
    </message>
    <message>
        <source>lines</source>
        <translation>Linien</translation>
    </message>
    <message>
        <source>loaded</source>
        <translation>beladen</translation>
    </message>
    <message>
        <source>low polluting</source>
        <translation>schadstoffarm</translation>
    </message>
    <message>
        <source>very low polluting</source>
        <translation>sehr schadstoffarm</translation>
    </message>
    <message>
        <source>not low polluting</source>
        <translation>nicht schadstoffarm</translation>
    </message>
    <message>
        <source>masonry shaft</source>
        <translation>gemauerter Schacht</translation>
    </message>
    <message>
        <source>mass, as at sea level</source>
        <translation>Masse, wie auf Meereshöhe</translation>
    </message>
    <message>
        <source>volume at local density</source>
        <translation>Volumen bei örtlicher Dichte</translation>
    </message>
    <message>
        <source>met</source>
        <translation>erfüllt</translation>
    </message>
    <message>
        <source>metres from the fan</source>
        <translation>Meter vom Ventilator</translation>
    </message>
    <message>
        <source>middles</source>
        <translation>Mitten</translation>
    </message>
    <message>
        <source>motor %1 kW</source>
        <translation>Motor %1 kW</translation>
    </message>
    <message>
        <source>negative</source>
        <translation>Unterdruck</translation>
    </message>
    <message>
        <source>negative high</source>
        <translation>starker Unterdruck</translation>
    </message>
    <message>
        <source>neutral</source>
        <translation>ausgeglichen</translation>
    </message>
    <message>
        <source>positive</source>
        <translation>Überdruck</translation>
    </message>
    <message>
        <source>positive high</source>
        <translation>starker Überdruck</translation>
    </message>
    <message>
        <source>never</source>
        <translation>nie</translation>
    </message>
    <message>
        <source>next level</source>
        <translation>nächstes Geschoss</translation>
    </message>
    <message>
        <source>no</source>
        <translation>nein</translation>
    </message>
    <message>
        <source>yes</source>
        <translation>ja</translation>
    </message>
    <message>
        <source>no, standard time</source>
        <translation>nein, Normalzeit</translation>
    </message>
    <message>
        <source>yes, in the summer half</source>
        <translation>ja, im Sommerhalbjahr</translation>
    </message>
    <message>
        <source>none, on its axis</source>
        <translation>keine, auf der Achse</translation>
    </message>
    <message>
        <source>none, unconditioned</source>
        <translation>keine, unbeheizt</translation>
    </message>
    <message>
        <source>not made yet</source>
        <translation>noch nicht erstellt</translation>
    </message>
    <message>
        <source>not served</source>
        <translation>nicht versorgt</translation>
    </message>
    <message>
        <source>not served: unconditioned</source>
        <translation>nicht versorgt: keine Anlage</translation>
    </message>
    <message>
        <source>nothing changes at this hour</source>
        <translation>in dieser Stunde ändert sich nichts</translation>
    </message>
    <message>
        <source>of it sun through glass</source>
        <translation>davon Sonne durch Glas</translation>
    </message>
    <message>
        <source>of room peaks</source>
        <translation>der Raumspitzen</translation>
    </message>
    <message>
        <source>of the supply fan</source>
        <translation>des Zuluftventilators</translation>
    </message>
    <message>
        <source>of the system</source>
        <translation>der Anlage</translation>
    </message>
    <message>
        <source>of this system</source>
        <translation>dieser Anlage</translation>
    </message>
    <message>
        <source>on one side</source>
        <translation>auf einer Seite</translation>
    </message>
    <message>
        <source>on the other</source>
        <translation>auf der anderen</translation>
    </message>
    <message>
        <source>one</source>
        <translation>einer</translation>
    </message>
    <message>
        <source>one behind the other</source>
        <translation>hintereinander</translation>
    </message>
    <message>
        <source>one of %1</source>
        <translation>einer von %1</translation>
    </message>
    <message>
        <source>side by side</source>
        <translation>nebeneinander</translation>
    </message>
    <message>
        <source>open</source>
        <translation>offen</translation>
    </message>
    <message>
        <source>orifice plate</source>
        <translation>Lochblende</translation>
    </message>
    <message>
        <source>outdoor, the design day</source>
        <translation>außen, der Auslegungstag</translation>
    </message>
    <message>
        <source>outside %1 to %2</source>
        <translation>außen %1 bis %2</translation>
    </message>
    <message>
        <source>own fans away</source>
        <translation>ohne eigene Ventilatoren</translation>
    </message>
    <message>
        <source>plastic</source>
        <translation>Kunststoff</translation>
    </message>
    <message>
        <source>pressure over length</source>
        <translation>Druck über Länge</translation>
    </message>
    <message>
        <source>read it again</source>
        <translation>neu lesen</translation>
    </message>
    <message>
        <source>reheat at the terminal</source>
        <translation>Nacherwärmung am Durchlass</translation>
    </message>
    <message>
        <source>reheat %1 kW</source>
        <translation>Nacherwärmung %1 kW</translation>
    </message>
    <message>
        <source>room heaters</source>
        <translation>Raumheizung</translation>
    </message>
    <message>
        <source>room units</source>
        <translation>Raumgeräte</translation>
    </message>
    <message>
        <source>round ceiling diffuser</source>
        <translation>runder Deckendurchlass</translation>
    </message>
    <message>
        <source>square ceiling diffuser, four-way</source>
        <translation>quadratischer Deckendurchlass, vierseitig</translation>
    </message>
    <message>
        <source>swirl diffuser</source>
        <translation>Dralldurchlass</translation>
    </message>
    <message>
        <source>two-slot linear diffuser, per %1 m</source>
        <translation>Schlitzdurchlass, zweischlitzig, je %1 m</translation>
    </message>
    <message>
        <source>double-deflection wall grille</source>
        <translation>Wandgitter, doppelt verstellbar</translation>
    </message>
    <message>
        <source>rule %1</source>
        <translation>Regel %1</translation>
    </message>
    <message>
        <source>seams included</source>
        <translation>mit Nähten</translation>
    </message>
    <message>
        <source>set</source>
        <translation>gestellt</translation>
    </message>
    <message>
        <source>single blade</source>
        <translation>Einzelblatt</translation>
    </message>
    <message>
        <source>stall, ø%1</source>
        <translation>Abriss, ø%1</translation>
    </message>
    <message>
        <source>standard sizes</source>
        <translation>Normgrößen</translation>
    </message>
    <message>
        <source>sum of rooms</source>
        <translation>Summe der Räume</translation>
    </message>
    <message>
        <source>sun on the worst facade, W/m²</source>
        <translation>Sonne auf die ungünstigste Fassade, W/m²</translation>
    </message>
    <message>
        <source>supply air alone</source>
        <translation>nur Zuluft</translation>
    </message>
    <message>
        <source>transfer air alone</source>
        <translation>nur Überströmluft</translation>
    </message>
    <message>
        <source>supply side, total pressure against the rooms, Pa</source>
        <translation>Zuluftseite, Gesamtdruck gegen die Räume, Pa</translation>
    </message>
    <message>
        <source>system curve</source>
        <translation>Anlagenkennlinie</translation>
    </message>
    <message>
        <source>terminal, its height the excess pressure</source>
        <translation>Durchlass, seine Höhe der Überschuss</translation>
    </message>
    <message>
        <source>the answer follows at once</source>
        <translation>die Antwort folgt sofort</translation>
    </message>
    <message>
        <source>the best by rule</source>
        <translation>der beste nach Regel</translation>
    </message>
    <message>
        <source>the greatest need</source>
        <translation>der größte Bedarf</translation>
    </message>
    <message>
        <source>the rate below</source>
        <translation>der Wert darunter</translation>
    </message>
    <message>
        <source>top</source>
        <translation>oben</translation>
    </message>
    <message>
        <source>unit to room</source>
        <translation>Gerät zum Raum</translation>
    </message>
    <message>
        <source>used</source>
        <translation>genutzt</translation>
    </message>
    <message>
        <source>velocity of the first trunk</source>
        <translation>Geschwindigkeit des ersten Hauptkanals</translation>
    </message>
    <message>
        <source>wanted %1 %</source>
        <translation>erwünscht %1 %</translation>
    </message>
    <message>
        <source>warmest hour</source>
        <translation>wärmste Stunde</translation>
    </message>
    <message>
        <source>wheel, total</source>
        <translation>Rad, gesamt</translation>
    </message>
    <message>
        <source>while rooms are used</source>
        <translation>während der Nutzung</translation>
    </message>
    <message>
        <source>whole window</source>
        <translation>ganzes Fenster</translation>
    </message>
    <message>
        <source>window</source>
        <translation>Fenster</translation>
    </message>
    <message>
        <source>winter design day</source>
        <translation>Auslegungstag Winter</translation>
    </message>
    <message>
        <source>winter, %1 °C</source>
        <translation>Winter, %1 °C</translation>
    </message>
    <message>
        <source>with films</source>
        <translation>mit Übergängen</translation>
    </message>
    <message>
        <source>with fittings</source>
        <translation>mit Formstücken</translation>
    </message>
    <message>
        <source>with intermediate sizes</source>
        <translation>mit Zwischengrößen</translation>
    </message>
    <message>
        <source>would turn %1 rpm too fast</source>
        <translation>drehte %1 U/min zu schnell</translation>
    </message>
    <message>
        <source>← Back</source>
        <translation>← Zurück</translation>
    </message>
    <message>
        <source>− room loses heat   + room gains heat, kW</source>
        <translation>− Raum gibt Wärme ab   + Raum nimmt Wärme auf, kW</translation>
    </message>
    <message>
        <source>Click a duct; Shift adds. Drag it: what hangs on it follows. PgUp and PgDn move it in height. Click a size to pin it.</source>
        <translation>Klick auf einen Kanal; Umschalt fügt hinzu. Ziehen: was daran hängt, folgt. Bild auf und ab bewegen ihn in der Höhe. Eine Sprosse steckt eine Größe fest.</translation>
    </message>
    <message>
        <source>Click a room or a window; Shift adds. Drag moves, over empty plan it bands, with Alt a lasso. R draws a room, Del removes.</source>
        <translation>Klick auf Raum oder Fenster; Umschalt fügt hinzu. Ziehen bewegt, über leerem Plan fängt es ein, mit Alt als Lasso. R zeichnet einen Raum, Entf entfernt.</translation>
    </message>
    <message>
        <source>Click a month, then type its figures in the card; everything that depends on them follows.</source>
        <translation>Klick auf einen Monat, dann seine Werte in die Karte tippen; alles, was daran hängt, folgt.</translation>
    </message>
    <message>
        <source>Click a dot, a path or a row; drag a dot up or down to set its damper. What-ifs combine; none of them changes the project.</source>
        <translation>Klick auf Punkt, Weg oder Zeile; einen Punkt auf oder ab ziehen stellt seine Klappe. Was-wäre-wenn lassen sich verbinden; keines ändert das Projekt.</translation>
    </message>
    <message>
        <source>Drag a section along the unit, or out of it. Click a section for its figures; drag a ringed state to move the supply temperature.</source>
        <translation>Einen Teil im Gerät verschieben oder herausziehen. Klick zeigt seine Werte; ein umringter Zustand, gezogen, ändert die Zulufttemperatur.</translation>
    </message>
    <message>
        <source>Pick an hour; the plans show every room at it. Point at a figure and press W for its derivation.</source>
        <translation>Eine Stunde wählen; die Pläne zeigen jeden Raum zu ihr. Auf eine Zahl zeigen und W drücken: ihre Herleitung.</translation>
    </message>
    <message>
        <source>Pull the speed to pin it; a double click on a candidate chooses that fan. What-ifs of Balance hold here too.</source>
        <translation>Die Drehzahl ziehen steckt sie fest; ein Doppelklick auf einen Kandidaten wählt ihn. Was-wäre-wenn des Abgleichs gelten auch hier.</translation>
    </message>
    <message>
        <source>one side</source>
        <translation>eine Seite</translation>
    </message>
    <message>
        <source>both sides, bound at the long edge</source>
        <translation>beidseitig, lange Kante gebunden</translation>
    </message>
    <message>
        <source>both sides, bound at the short edge</source>
        <translation>beidseitig, kurze Kante gebunden</translation>
    </message>
    <message>
        <source>printer</source>
        <translation>Drucker</translation>
    </message>
    <message>
        <source>copies</source>
        <translation>Kopien</translation>
    </message>
    <message>
        <source>pages of %1</source>
        <translation>Seiten von %1</translation>
    </message>
    <message>
        <source>Lifted</source>
        <translation>Abgehoben</translation>
    </message>
    <message>
        <source>Jan %1–%2 h</source>
        <translation>Jan. %1–%2 Uhr</translation>
    </message>
    <message>
        <source>cooling, %1 Jan</source>
        <translation>Kühlen, %1. Jan.</translation>
    </message>
    <message>
        <source>Rooms at %1 Jan, %2–%3 h</source>
        <translation>Räume am %1. Jan., %2–%3 Uhr</translation>
    </message>
    <message>
        <source>States, %1 Jan, %2–%3 h</source>
        <translation>Zustände, %1. Jan., %2–%3 Uhr</translation>
    </message>
    <message>
        <source>Cooling, %1 Jan, %2–%3 h</source>
        <translation>Kühlen, %1. Jan., %2–%3 Uhr</translation>
    </message>
    <message>
        <source>%1 Jan, %2–%3 h</source>
        <translation>%1. Jan., %2–%3 Uhr</translation>
    </message>
    <message>
        <source>Design day of Jan</source>
        <translation>Auslegungstag Jan.</translation>
    </message>
    <message>
        <source>Feb %1–%2 h</source>
        <translation>Feb. %1–%2 Uhr</translation>
    </message>
    <message>
        <source>cooling, %1 Feb</source>
        <translation>Kühlen, %1. Feb.</translation>
    </message>
    <message>
        <source>Rooms at %1 Feb, %2–%3 h</source>
        <translation>Räume am %1. Feb., %2–%3 Uhr</translation>
    </message>
    <message>
        <source>States, %1 Feb, %2–%3 h</source>
        <translation>Zustände, %1. Feb., %2–%3 Uhr</translation>
    </message>
    <message>
        <source>Cooling, %1 Feb, %2–%3 h</source>
        <translation>Kühlen, %1. Feb., %2–%3 Uhr</translation>
    </message>
    <message>
        <source>%1 Feb, %2–%3 h</source>
        <translation>%1. Feb., %2–%3 Uhr</translation>
    </message>
    <message>
        <source>Design day of Feb</source>
        <translation>Auslegungstag Feb.</translation>
    </message>
    <message>
        <source>Mar %1–%2 h</source>
        <translation>März %1–%2 Uhr</translation>
    </message>
    <message>
        <source>cooling, %1 Mar</source>
        <translation>Kühlen, %1. März</translation>
    </message>
    <message>
        <source>Rooms at %1 Mar, %2–%3 h</source>
        <translation>Räume am %1. März, %2–%3 Uhr</translation>
    </message>
    <message>
        <source>States, %1 Mar, %2–%3 h</source>
        <translation>Zustände, %1. März, %2–%3 Uhr</translation>
    </message>
    <message>
        <source>Cooling, %1 Mar, %2–%3 h</source>
        <translation>Kühlen, %1. März, %2–%3 Uhr</translation>
    </message>
    <message>
        <source>%1 Mar, %2–%3 h</source>
        <translation>%1. März, %2–%3 Uhr</translation>
    </message>
    <message>
        <source>Design day of Mar</source>
        <translation>Auslegungstag März</translation>
    </message>
    <message>
        <source>Apr %1–%2 h</source>
        <translation>April %1–%2 Uhr</translation>
    </message>
    <message>
        <source>cooling, %1 Apr</source>
        <translation>Kühlen, %1. April</translation>
    </message>
    <message>
        <source>Rooms at %1 Apr, %2–%3 h</source>
        <translation>Räume am %1. April, %2–%3 Uhr</translation>
    </message>
    <message>
        <source>States, %1 Apr, %2–%3 h</source>
        <translation>Zustände, %1. April, %2–%3 Uhr</translation>
    </message>
    <message>
        <source>Cooling, %1 Apr, %2–%3 h</source>
        <translation>Kühlen, %1. April, %2–%3 Uhr</translation>
    </message>
    <message>
        <source>%1 Apr, %2–%3 h</source>
        <translation>%1. April, %2–%3 Uhr</translation>
    </message>
    <message>
        <source>Design day of Apr</source>
        <translation>Auslegungstag April</translation>
    </message>
    <message>
        <source>May %1–%2 h</source>
        <translation>Mai %1–%2 Uhr</translation>
    </message>
    <message>
        <source>cooling, %1 May</source>
        <translation>Kühlen, %1. Mai</translation>
    </message>
    <message>
        <source>Rooms at %1 May, %2–%3 h</source>
        <translation>Räume am %1. Mai, %2–%3 Uhr</translation>
    </message>
    <message>
        <source>States, %1 May, %2–%3 h</source>
        <translation>Zustände, %1. Mai, %2–%3 Uhr</translation>
    </message>
    <message>
        <source>Cooling, %1 May, %2–%3 h</source>
        <translation>Kühlen, %1. Mai, %2–%3 Uhr</translation>
    </message>
    <message>
        <source>%1 May, %2–%3 h</source>
        <translation>%1. Mai, %2–%3 Uhr</translation>
    </message>
    <message>
        <source>Design day of May</source>
        <translation>Auslegungstag Mai</translation>
    </message>
    <message>
        <source>Jun %1–%2 h</source>
        <translation>Juni %1–%2 Uhr</translation>
    </message>
    <message>
        <source>cooling, %1 Jun</source>
        <translation>Kühlen, %1. Juni</translation>
    </message>
    <message>
        <source>Rooms at %1 Jun, %2–%3 h</source>
        <translation>Räume am %1. Juni, %2–%3 Uhr</translation>
    </message>
    <message>
        <source>States, %1 Jun, %2–%3 h</source>
        <translation>Zustände, %1. Juni, %2–%3 Uhr</translation>
    </message>
    <message>
        <source>Cooling, %1 Jun, %2–%3 h</source>
        <translation>Kühlen, %1. Juni, %2–%3 Uhr</translation>
    </message>
    <message>
        <source>%1 Jun, %2–%3 h</source>
        <translation>%1. Juni, %2–%3 Uhr</translation>
    </message>
    <message>
        <source>Design day of Jun</source>
        <translation>Auslegungstag Juni</translation>
    </message>
    <message>
        <source>Jul %1–%2 h</source>
        <translation>Juli %1–%2 Uhr</translation>
    </message>
    <message>
        <source>Rooms at %1 Jul, %2–%3 h</source>
        <translation>Räume am %1. Juli, %2–%3 Uhr</translation>
    </message>
    <message>
        <source>States, %1 Jul, %2–%3 h</source>
        <translation>Zustände, %1. Juli, %2–%3 Uhr</translation>
    </message>
    <message>
        <source>Cooling, %1 Jul, %2–%3 h</source>
        <translation>Kühlen, %1. Juli, %2–%3 Uhr</translation>
    </message>
    <message>
        <source>Aug %1–%2 h</source>
        <translation>Aug. %1–%2 Uhr</translation>
    </message>
    <message>
        <source>Rooms at %1 Aug, %2–%3 h</source>
        <translation>Räume am %1. Aug., %2–%3 Uhr</translation>
    </message>
    <message>
        <source>States, %1 Aug, %2–%3 h</source>
        <translation>Zustände, %1. Aug., %2–%3 Uhr</translation>
    </message>
    <message>
        <source>Cooling, %1 Aug, %2–%3 h</source>
        <translation>Kühlen, %1. Aug., %2–%3 Uhr</translation>
    </message>
    <message>
        <source>Design day of Aug</source>
        <translation>Auslegungstag Aug.</translation>
    </message>
    <message>
        <source>Sep %1–%2 h</source>
        <translation>Sept. %1–%2 Uhr</translation>
    </message>
    <message>
        <source>cooling, %1 Sep</source>
        <translation>Kühlen, %1. Sept.</translation>
    </message>
    <message>
        <source>Rooms at %1 Sep, %2–%3 h</source>
        <translation>Räume am %1. Sept., %2–%3 Uhr</translation>
    </message>
    <message>
        <source>States, %1 Sep, %2–%3 h</source>
        <translation>Zustände, %1. Sept., %2–%3 Uhr</translation>
    </message>
    <message>
        <source>Cooling, %1 Sep, %2–%3 h</source>
        <translation>Kühlen, %1. Sept., %2–%3 Uhr</translation>
    </message>
    <message>
        <source>%1 Sep, %2–%3 h</source>
        <translation>%1. Sept., %2–%3 Uhr</translation>
    </message>
    <message>
        <source>Design day of Sep</source>
        <translation>Auslegungstag Sept.</translation>
    </message>
    <message>
        <source>Oct %1–%2 h</source>
        <translation>Okt. %1–%2 Uhr</translation>
    </message>
    <message>
        <source>cooling, %1 Oct</source>
        <translation>Kühlen, %1. Okt.</translation>
    </message>
    <message>
        <source>Rooms at %1 Oct, %2–%3 h</source>
        <translation>Räume am %1. Okt., %2–%3 Uhr</translation>
    </message>
    <message>
        <source>States, %1 Oct, %2–%3 h</source>
        <translation>Zustände, %1. Okt., %2–%3 Uhr</translation>
    </message>
    <message>
        <source>Cooling, %1 Oct, %2–%3 h</source>
        <translation>Kühlen, %1. Okt., %2–%3 Uhr</translation>
    </message>
    <message>
        <source>%1 Oct, %2–%3 h</source>
        <translation>%1. Okt., %2–%3 Uhr</translation>
    </message>
    <message>
        <source>Design day of Oct</source>
        <translation>Auslegungstag Okt.</translation>
    </message>
    <message>
        <source>Nov %1–%2 h</source>
        <translation>Nov. %1–%2 Uhr</translation>
    </message>
    <message>
        <source>cooling, %1 Nov</source>
        <translation>Kühlen, %1. Nov.</translation>
    </message>
    <message>
        <source>Rooms at %1 Nov, %2–%3 h</source>
        <translation>Räume am %1. Nov., %2–%3 Uhr</translation>
    </message>
    <message>
        <source>States, %1 Nov, %2–%3 h</source>
        <translation>Zustände, %1. Nov., %2–%3 Uhr</translation>
    </message>
    <message>
        <source>Cooling, %1 Nov, %2–%3 h</source>
        <translation>Kühlen, %1. Nov., %2–%3 Uhr</translation>
    </message>
    <message>
        <source>%1 Nov, %2–%3 h</source>
        <translation>%1. Nov., %2–%3 Uhr</translation>
    </message>
    <message>
        <source>Design day of Nov</source>
        <translation>Auslegungstag Nov.</translation>
    </message>
    <message>
        <source>Dec %1–%2 h</source>
        <translation>Dez. %1–%2 Uhr</translation>
    </message>
    <message>
        <source>cooling, %1 Dec</source>
        <translation>Kühlen, %1. Dez.</translation>
    </message>
    <message>
        <source>Rooms at %1 Dec, %2–%3 h</source>
        <translation>Räume am %1. Dez., %2–%3 Uhr</translation>
    </message>
    <message>
        <source>States, %1 Dec, %2–%3 h</source>
        <translation>Zustände, %1. Dez., %2–%3 Uhr</translation>
    </message>
    <message>
        <source>Cooling, %1 Dec, %2–%3 h</source>
        <translation>Kühlen, %1. Dez., %2–%3 Uhr</translation>
    </message>
    <message>
        <source>%1 Dec, %2–%3 h</source>
        <translation>%1. Dez., %2–%3 Uhr</translation>
    </message>
    <message>
        <source>Design day of Dec</source>
        <translation>Auslegungstag Dez.</translation>
    </message>
    <message>
        <source>Cooling coil: click to put it in where it usually stands, or drag it into the train</source>
        <translation>Kühlregister: Klick setzt ihn an seinen üblichen Platz, oder ins Gerät ziehen</translation>
    </message>
    <message>
        <source>Heating coil: click to put it in where it usually stands, or drag it into the train</source>
        <translation>Heizregister: Klick setzt ihn an seinen üblichen Platz, oder ins Gerät ziehen</translation>
    </message>
    <message>
        <source>Filter: click to put it in where it usually stands, or drag it into the train</source>
        <translation>Filter: Klick setzt ihn an seinen üblichen Platz, oder ins Gerät ziehen</translation>
    </message>
    <message>
        <source>Heat recovery: click to put it in where it usually stands, or drag it into the train</source>
        <translation>Wärmerückgewinnung: Klick setzt ihn an seinen üblichen Platz, oder ins Gerät ziehen</translation>
    </message>
    <message>
        <source>Humidifier: click to put it in where it usually stands, or drag it into the train</source>
        <translation>Befeuchter: Klick setzt ihn an seinen üblichen Platz, oder ins Gerät ziehen</translation>
    </message>
    <message>
        <source>Mixing of return air: click to put it in where it usually stands, or drag it into the train</source>
        <translation>Mischung mit Rückluft: Klick setzt ihn an seinen üblichen Platz, oder ins Gerät ziehen</translation>
    </message>
    <message>
        <source>Supply fan: click to put it in where it usually stands, or drag it into the train</source>
        <translation>Zuluftventilator: Klick setzt ihn an seinen üblichen Platz, oder ins Gerät ziehen</translation>
    </message>
    <message>
        <source>Return fan: click to put it in where it usually stands, or drag it into the train</source>
        <translation>Rückluftventilator: Klick setzt ihn an seinen üblichen Platz, oder ins Gerät ziehen</translation>
    </message>
    <message>
        <source>Silencer: click to put it in where it usually stands, or drag it into the train</source>
        <translation>Schalldämpfer: Klick setzt ihn an seinen üblichen Platz, oder ins Gerät ziehen</translation>
    </message>
    <message>
        <source>Fan +%1</source>
        <translation>Ventilator +%1</translation>
    </message>
    <message>
        <source>Louvre %1</source>
        <translation>Gitter %1</translation>
    </message>
    <message>
        <source>Recovery %1</source>
        <translation>Rückgewinnung %1</translation>
    </message>
    <message>
        <source>Mixing %1</source>
        <translation>Mischung %1</translation>
    </message>
    <message>
        <source>Cooling %1</source>
        <translation>Kühlen %1</translation>
    </message>
    <message>
        <source>Heating %1</source>
        <translation>Heizen %1</translation>
    </message>
    <message>
        <source>Silencer %1</source>
        <translation>Schalldämpfer %1</translation>
    </message>
    <message>
        <source>Filter %1</source>
        <translation>Filter %1</translation>
    </message>
    <message>
        <source>to %1b</source>
        <translation>zu %1b</translation>
    </message>
    <message>
        <source>to %1a</source>
        <translation>zu %1a</translation>
    </message>
    <message>
        <source>to %1</source>
        <translation>zu %1</translation>
    </message>
    <message>
        <source>Assembly</source>
        <translation>Zusammenkunft</translation>
    </message>
    <message>
        <source>Laboratory</source>
        <translation>Labor</translation>
    </message>
    <message>
        <source>Wet</source>
        <translation>Nass</translation>
    </message>
    <message>
        <source>Stores, circulation</source>
        <translation>Lager, Wege</translation>
    </message>
    <message>
        <source>Bedrooms, living</source>
        <translation>Schlafen, Wohnen</translation>
    </message>
    <message>
        <source>Workshop, kitchen</source>
        <translation>Werkstatt, Küche</translation>
    </message>
    <message>
        <source>Unheated</source>
        <translation>Unbeheizt</translation>
    </message>
    <message>
        <source>unheated</source>
        <translation>unbeheizt</translation>
    </message>
    <message>
        <source>Below</source>
        <translation>Unten</translation>
    </message>
    <message>
        <source>Above</source>
        <translation>Oben</translation>
    </message>
    <message>
        <source>Beside</source>
        <translation>Daneben</translation>
    </message>
    <message>
        <source>South-west</source>
        <translation>Südwest</translation>
    </message>
    <message>
        <source>South-east</source>
        <translation>Südost</translation>
    </message>
    <message>
        <source>North-west</source>
        <translation>Nordwest</translation>
    </message>
    <message>
        <source>North-east</source>
        <translation>Nordost</translation>
    </message>
    <message>
        <source>fan %</source>
        <translation>Vent. %</translation>
    </message>
    <message>
        <source>air temperature</source>
        <translation>Luft bei</translation>
    </message>
    <message>
        <source>Filter: type part of a room, a face, a direction, a build-up …</source>
        <translation>Filter: Teil eines Raums, einer Fläche, Richtung, eines Aufbaus tippen …</translation>
    </message>
    <message>
        <source>why it is accepted, then Enter</source>
        <translation>warum er angenommen wird, dann Enter</translation>
    </message>
    <message>
        <source>Add a layer: type part of a material …</source>
        <translation>Schicht dazu: Teil eines Werkstoffs tippen …</translation>
    </message>
    <message>
        <source>this machine</source>
        <translation>dieser Rechner</translation>
    </message>
    <message>
        <source>Paste from a spreadsheet with Ctrl V · type in any cell</source>
        <translation>Aus einer Tabelle einfügen mit Strg V · in jede Zelle tippen</translation>
    </message>
    <message>
        <source>%1, by excess pressure · as designed</source>
        <translation>%1, nach Überschuss · wie ausgelegt</translation>
    </message>
    <message>
        <source>Every path ends in its room.</source>
        <translation>Jeder Weg endet in seinem Raum.</translation>
    </message>
    <message>
        <source>At end</source>
        <translation>Am Ende</translation>
    </message>
    <message>
        <source>what the rule gives</source>
        <translation>was die Regel gibt</translation>
    </message>
    <message>
        <source>%1 segments, %2 kg</source>
        <translation>%1 Strecken, %2 kg</translation>
    </message>
    <message>
        <source>beam or tray</source>
        <translation>Balken oder Trasse</translation>
    </message>
    <message>
        <source>flows in L/s</source>
        <translation>Mengen in L/s</translation>
    </message>
    <message>
        <source>Total pressure at end</source>
        <translation>Übrig an seinem Ende</translation>
    </message>
    <message>
        <source>Pressure here</source>
        <translation>Druck hier</translation>
    </message>
    <message>
        <source>fits beneath %1</source>
        <translation>passt unter %1</translation>
    </message>
    <message>
        <source>level Upper</source>
        <translation>Geschoss Upper</translation>
    </message>
    <message>
        <source>level Ground</source>
        <translation>Geschoss Ground</translation>
    </message>
    <message>
        <source>%1 m, %2 kg, galvanised</source>
        <translation>%1 m, %2 kg, verzinkt</translation>
    </message>
    <message>
        <source>%1 m, %2 kg</source>
        <translation>%1 m, %2 kg</translation>
    </message>
    <message>
        <source>of %1 Pa</source>
        <translation>von %1 Pa</translation>
    </message>
    <message>
        <source>At %1 m/s in ø%2 a blade at %3° takes %4 Pa; a little turn changes much.</source>
        <translation>Bei %1 m/s in ø%2 nimmt ein Blatt bei %3° %4 Pa; eine kleine Drehung ändert viel.</translation>
    </message>
    <message>
        <source>%1: sun is %2%3 of cooling</source>
        <translation>%1: Sonne ist %2%3 des Kühlens</translation>
    </message>
    <message>
        <source>Next finding</source>
        <translation>Nächster Befund</translation>
    </message>
    <message>
        <source>Previous finding</source>
        <translation>Voriger Befund</translation>
    </message>
    <message>
        <source>Findings by cause</source>
        <translation>Befunde nach Ursache</translation>
    </message>
    <message>
        <source>Back to the card (Esc)</source>
        <translation>Zurück zur Karte (Esc)</translation>
    </message>
    <message>
        <source>Every level</source>
        <translation>Alle Geschosse</translation>
    </message>
    <message>
        <source>All, %1</source>
        <translation>Alle, %1</translation>
    </message>
    <message>
        <source>No findings</source>
        <translation>Keine Befunde</translation>
    </message>
    <message>
        <source>Link</source>
        <translation>Glied</translation>
    </message>
    <message>
        <source>Limits that are broken; click for all of them (F%1)</source>
        <translation>Verletzte Grenzen; ein Klick zeigt alle (F%1)</translation>
    </message>
    <message>
        <source>Loads, %1</source>
        <translation>Lasten, %1</translation>
    </message>
    <message>
        <source>Air, %1</source>
        <translation>Luft, %1</translation>
    </message>
    <message>
        <source>Ducts, %1</source>
        <translation>Kanäle, %1</translation>
    </message>
    <message>
        <source>Balance, %1</source>
        <translation>Abgleich, %1</translation>
    </message>
    <message>
        <source>Building, %1</source>
        <translation>Gebäude, %1</translation>
    </message>
    <message>
        <source>Fan, %1</source>
        <translation>Ventilator, %1</translation>
    </message>
    <message>
        <source>Name of the project</source>
        <translation>Name des Projekts</translation>
    </message>
    <message>
        <source>Name of the project: click to change it</source>
        <translation>Name des Projekts: zum Ändern anklicken</translation>
    </message>
    <message>
        <source>Copy as picture</source>
        <translation>Als Bild kopieren</translation>
    </message>
    <message>
        <source>Export picture (PNG) …</source>
        <translation>Bild exportieren (PNG) …</translation>
    </message>
    <message>
        <source>Export drawing (SVG) …</source>
        <translation>Zeichnung exportieren (SVG) …</translation>
    </message>
    <message>
        <source>Export figures (CSV) …</source>
        <translation>Zahlen exportieren (CSV) …</translation>
    </message>
    <message>
        <source>Why?</source>
        <translation>Warum?</translation>
    </message>
    <message>
        <source>Copied as a picture</source>
        <translation>Als Bild kopiert</translation>
    </message>
    <message>
        <source>Differences against what stands</source>
        <translation>Abweichung vom jetzigen Stand</translation>
    </message>
    <message>
        <source>What changes with</source>
        <translation>Was sich ändert mit</translation>
    </message>
    <message>
        <source>Option whose changes are listed</source>
        <translation>Variante, deren Änderungen gezeigt werden</translation>
    </message>
    <message>
        <source>Now and with it</source>
        <translation>Jetzt und damit</translation>
    </message>
    <message>
        <source>Where</source>
        <translation>Wo</translation>
    </message>
    <message>
        <source>Why</source>
        <translation>Warum</translation>
    </message>
    <message>
        <source>No figure differs</source>
        <translation>Keine Zahl weicht ab</translation>
    </message>
    <message>
        <source>Keep what stands as an option, then change the project</source>
        <translation>Den Stand als Variante sichern, dann das Projekt ändern</translation>
    </message>
    <message>
        <source>%1 rooms and ducts</source>
        <translation>%1 Räume und Kanäle</translation>
    </message>
    <message>
        <source>%1 boxes</source>
        <translation>%1 Regler</translation>
    </message>
    <message>
        <source>%1 units</source>
        <translation>%1 Raumgeräte</translation>
    </message>
    <message>
        <source>%1 unit</source>
        <translation>%1 Raumgerät</translation>
    </message>
    <message>
        <source>%1 % outd.</source>
        <translation>%1 % Außenluft</translation>
    </message>
    <message>
        <source>%1 box</source>
        <translation>%1 Regler</translation>
    </message>
    <message>
        <source>%1 at the upper end of what is likely</source>
        <translation>%1 am oberen Ende des Wahrscheinlichen</translation>
    </message>
    <message>
        <source>%1 m² at the upper end of what is likely</source>
        <translation>%1 m² am oberen Ende des Wahrscheinlichen</translation>
    </message>
    <message>
        <source>A, %1 V</source>
        <translation>A, %1 V</translation>
    </message>
    <message>
        <source>Air drop</source>
        <translation>Luftseitig</translation>
    </message>
    <message>
        <source>Air handlers</source>
        <translation>RLT-Geräte</translation>
    </message>
    <message>
        <source>Air in</source>
        <translation>Luft ein</translation>
    </message>
    <message>
        <source>Air off</source>
        <translation>Luft aus</translation>
    </message>
    <message>
        <source>Around</source>
        <translation>Umgebung</translation>
    </message>
    <message>
        <source>Asked cold</source>
        <translation>Kühlen verlangt</translation>
    </message>
    <message>
        <source>Asked heat</source>
        <translation>Heizen verlangt</translation>
    </message>
    <message>
        <source>Box + coil</source>
        <translation>Regler + Register</translation>
    </message>
    <message>
        <source>Bypass</source>
        <translation>Bypass</translation>
    </message>
    <message>
        <source>Casing</source>
        <translation>Gehäuse</translation>
    </message>
    <message>
        <source>Circuits</source>
        <translation>Kreise</translation>
    </message>
    <message>
        <source>Clear</source>
        <translation>Lichte Höhe</translation>
    </message>
    <message>
        <source>Coils</source>
        <translation>Register</translation>
    </message>
    <message>
        <source>Coils give</source>
        <translation>Register geben</translation>
    </message>
    <message>
        <source>Cold water</source>
        <translation>Kaltwasser</translation>
    </message>
    <message>
        <source>Cooling, at the building’s own hour</source>
        <translation>Kühlen, zur Stunde des Gebäudes</translation>
    </message>
    <message>
        <source>Cooling, sum of all coils</source>
        <translation>Kühlen, Summe aller Register</translation>
    </message>
    <message>
        <source>Decks</source>
        <translation>Bauart</translation>
    </message>
    <message>
        <source>Depth</source>
        <translation>Tiefe</translation>
    </message>
    <message>
        <source>Drawn</source>
        <translation>Gezeichnet</translation>
    </message>
    <message>
        <source>Drop</source>
        <translation>Druckverlust</translation>
    </message>
    <message>
        <source>Ducts through it</source>
        <translation>Leitungen darin</translation>
    </message>
    <message>
        <source>Dry the air, then reheat</source>
        <translation>Luft trocknen, dann nachheizen</translation>
    </message>
    <message>
        <source>Floor for air handlers</source>
        <translation>Fläche für Lüftungsgeräte</translation>
    </message>
    <message>
        <source>Floor for plant</source>
        <translation>Fläche für Erzeuger</translation>
    </message>
    <message>
        <source>Flow boxes</source>
        <translation>Regler</translation>
    </message>
    <message>
        <source>Free area</source>
        <translation>Freier Querschnitt</translation>
    </message>
    <message>
        <source>Greatest</source>
        <translation>Größter</translation>
    </message>
    <message>
        <source>Heat</source>
        <translation>Heizen</translation>
    </message>
    <message>
        <source>Hot water</source>
        <translation>Heizwasser</translation>
    </message>
    <message>
        <source>Heating water</source>
        <translation>Heizwasser</translation>
    </message>
    <message>
        <source>Chilled water</source>
        <translation>Kaltwasser</translation>
    </message>
    <message>
        <source>Inlet</source>
        <translation>Stutzen</translation>
    </message>
    <message>
        <source>Input</source>
        <translation>Aufnahme</translation>
    </message>
    <message>
        <source>Too long</source>
        <translation>Zu lang</translation>
    </message>
    <message>
        <source>Too wide</source>
        <translation>Zu breit</translation>
    </message>
    <message>
        <source>Too high</source>
        <translation>Zu hoch</translation>
    </message>
    <message>
        <source>Least</source>
        <translation>Kleinster</translation>
    </message>
    <message>
        <source>Load</source>
        <translation>Last</translation>
    </message>
    <message>
        <source>Longest way</source>
        <translation>Längster Weg</translation>
    </message>
    <message>
        <source>Machines</source>
        <translation>Erzeuger</translation>
    </message>
    <message>
        <source>Main, DN</source>
        <translation>Hauptrohr, DN</translation>
    </message>
    <message>
        <source>Mass</source>
        <translation>Masse</translation>
    </message>
    <message>
        <source>NC casing</source>
        <translation>NC Gehäuse</translation>
    </message>
    <message>
        <source>NC duct</source>
        <translation>NC Leitung</translation>
    </message>
    <message>
        <source>Number</source>
        <translation>Anzahl</translation>
    </message>
    <message>
        <source>On filters</source>
        <translation>Auf Filtern</translation>
    </message>
    <message>
        <source>Pieces</source>
        <translation>Teile</translation>
    </message>
    <message>
        <source>Plant room</source>
        <translation>Technikraum</translation>
    </message>
    <message>
        <source>Plant room, of what is chosen</source>
        <translation>Technikraum, nach der Auswahl</translation>
    </message>
    <message>
        <source>Primary</source>
        <translation>Primärluft</translation>
    </message>
    <message>
        <source>Pumps</source>
        <translation>Pumpen</translation>
    </message>
    <message>
        <source>Put a unit …</source>
        <translation>Gerät …</translation>
    </message>
    <message>
        <source>Put one box</source>
        <translation>Ein Regler</translation>
    </message>
    <message>
        <source>Recovery</source>
        <translation>Rückgewinnung</translation>
    </message>
    <message>
        <source>Reheat</source>
        <translation>Nachheizung</translation>
    </message>
    <message>
        <source>Remove</source>
        <translation>Entfernen</translation>
    </message>
    <message>
        <source>Room RH</source>
        <translation>Raum r. F.</translation>
    </message>
    <message>
        <source>Room units</source>
        <translation>Raumgeräte</translation>
    </message>
    <message>
        <source>Rows</source>
        <translation>Reihen</translation>
    </message>
    <message>
        <source>Series</source>
        <translation>Baureihe</translation>
    </message>
    <message>
        <source>Serves</source>
        <translation>Für</translation>
    </message>
    <message>
        <source>Shaft</source>
        <translation>Schacht</translation>
    </message>
    <message>
        <source>Shafts</source>
        <translation>Schächte</translation>
    </message>
    <message>
        <source>Silencers</source>
        <translation>Dämpfer</translation>
    </message>
    <message>
        <source>Spare</source>
        <translation>Frei</translation>
    </message>
    <message>
        <source>Stands in</source>
        <translation>Steht in</translation>
    </message>
    <message>
        <source>Tag</source>
        <translation>Kennung</translation>
    </message>
    <message>
        <source>Valve kv</source>
        <translation>Ventil kv</translation>
    </message>
    <message>
        <source>Void</source>
        <translation>Luftraum</translation>
    </message>
    <message>
        <source>Water drop</source>
        <translation>Wasserseitig</translation>
    </message>
    <message>
        <source>Water in</source>
        <translation>Wasser ein</translation>
    </message>
    <message>
        <source>all</source>
        <translation>alle</translation>
    </message>
    <message>
        <source>at most</source>
        <translation>höchstens</translation>
    </message>
    <message>
        <source>back</source>
        <translation>Rücklauf</translation>
    </message>
    <message>
        <source>boiler</source>
        <translation>Kessel</translation>
    </message>
    <message>
        <source>casing</source>
        <translation>Gehäuse</translation>
    </message>
    <message>
        <source>bypass and drop by rule</source>
        <translation>Bypass und Verlust nach Regel</translation>
    </message>
    <message>
        <source>by the greatest share of any room</source>
        <translation>nach dem größten Anteil eines Raums</translation>
    </message>
    <message>
        <source>chilled beam</source>
        <translation>Kühlbalken</translation>
    </message>
    <message>
        <source>chiller, air-cooled</source>
        <translation>Kältemaschine, luftgekühlt</translation>
    </message>
    <message>
        <source>chiller, water-cooled</source>
        <translation>Kältemaschine, wassergekühlt</translation>
    </message>
    <message>
        <source>heat pump, air</source>
        <translation>Wärmepumpe, Luft</translation>
    </message>
    <message>
        <source>heat pump, water</source>
        <translation>Wärmepumpe, Wasser</translation>
    </message>
    <message>
        <source>condensing unit</source>
        <translation>Verflüssigersatz</translation>
    </message>
    <message>
        <source>clear height %1 m</source>
        <translation>lichte Höhe %1 m</translation>
    </message>
    <message>
        <source>cold water</source>
        <translation>Kaltwasser</translation>
    </message>
    <message>
        <source>direct cooling</source>
        <translation>Direktkühlung</translation>
    </message>
    <message>
        <source>each gives</source>
        <translation>jede gibt</translation>
    </message>
    <message>
        <source>each system at its own hour</source>
        <translation>jede Anlage zu ihrer Stunde</translation>
    </message>
    <message>
        <source>early estimate, ratio of the office standards</source>
        <translation>frühe Schätzung nach Kennwert des Büros</translation>
    </message>
    <message>
        <source>electric</source>
        <translation>elektrisch</translation>
    </message>
    <message>
        <source>fan coil</source>
        <translation>Gebläsekonvektor</translation>
    </message>
    <message>
        <source>floor</source>
        <translation>Fußboden</translation>
    </message>
    <message>
        <source>convector</source>
        <translation>Konvektor</translation>
    </message>
    <message>
        <source>follows the critical room</source>
        <translation>folgt dem kritischen Raum</translation>
    </message>
    <message>
        <source>hot water</source>
        <translation>Heizwasser</translation>
    </message>
    <message>
        <source>in tubes</source>
        <translation>in Rohren</translation>
    </message>
    <message>
        <source>inner</source>
        <translation>innen</translation>
    </message>
    <message>
        <source>kWh a year</source>
        <translation>kWh im Jahr</translation>
    </message>
    <message>
        <source>level</source>
        <translation>Geschoss</translation>
    </message>
    <message>
        <source>system</source>
        <translation>Anlage</translation>
    </message>
    <message>
        <source>least heat and cold</source>
        <translation>wenig Wärme und Kälte</translation>
    </message>
    <message>
        <source>nothing, figures stand</source>
        <translation>nichts, Werte bleiben</translation>
    </message>
    <message>
        <source>of it for air handlers</source>
        <translation>davon Lüftungsgeräte</translation>
    </message>
    <message>
        <source>out</source>
        <translation>aus</translation>
    </message>
    <message>
        <source>own dB(A)</source>
        <translation>eigene dB(A)</translation>
    </message>
    <message>
        <source>dB(A) duct</source>
        <translation>dB(A) Leitung</translation>
    </message>
    <message>
        <source>radiator</source>
        <translation>Heizkörper</translation>
    </message>
    <message>
        <source>raised until every room is served</source>
        <translation>erhöht, bis jeder Raum versorgt ist</translation>
    </message>
    <message>
        <source>stacked</source>
        <translation>übereinander</translation>
    </message>
    <message>
        <source>single</source>
        <translation>einfach</translation>
    </message>
    <message>
        <source>stays as set</source>
        <translation>bleibt wie gestellt</translation>
    </message>
    <message>
        <source>the sum of its rooms</source>
        <translation>die Summe seiner Räume</translation>
    </message>
    <message>
        <source>winter design day: handlers, reheat, room heaters</source>
        <translation>Wintertag: Geräte, Nachheizung, Heizflächen</translation>
    </message>
    <message>
        <source>with room to pull their coils out</source>
        <translation>mit Platz zum Ziehen der Register</translation>
    </message>
    <message>
        <source>variable</source>
        <translation>variabel</translation>
    </message>
    <message>
        <source>none serves</source>
        <translation>keines reicht</translation>
    </message>
    <message>
        <source>nothing to do</source>
        <translation>nichts zu tun</translation>
    </message>
    <message>
        <source>COP ¾</source>
        <translation>COP ¾</translation>
    </message>
    <message>
        <source>Click a line and its rooms are chosen. Cells behind a ring or a pin can be typed into; W says why.</source>
        <translation>Klick auf eine Zeile wählt ihre Räume. Zellen hinter Ring oder Nadel lassen sich beschreiben; W sagt warum.</translation>
    </message>
    <message>
        <source>Click a terminal or a room; drag a terminal where its air is wanted. Boxes and units stand at their size.</source>
        <translation>Klick auf Durchlass oder Raum; einen Durchlass dorthin ziehen, wo seine Luft gebraucht wird. Regler und Geräte stehen in ihrer Größe.</translation>
    </message>
    <message>
        <source>The unit to scale, with the space its service takes. Its size is fixed under Equipment, Air handlers.</source>
        <translation>Das Gerät im Maßstab mit dem Platz für seine Wartung. Seine Größe wird unter Ausstattung, Lüftungsgeräte festgelegt.</translation>
    </message>
    <message>
        <source>One flow box for all chosen rooms</source>
        <translation>Ein Volumenstromregler für alle gewählten Räume</translation>
    </message>
    <message>
        <source>A unit of some kind into each chosen room</source>
        <translation>Ein Gerät in jeden gewählten Raum</translation>
    </message>
    <message>
        <source>The chosen unit out of its room</source>
        <translation>Das gewählte Gerät aus seinem Raum</translation>
    </message>
    <message>
        <source>Fan coil</source>
        <translation>Gebläsekonvektor</translation>
    </message>
    <message>
        <source>Chilled beam</source>
        <translation>Kühlbalken</translation>
    </message>
    <message>
        <source>Radiator</source>
        <translation>Heizkörper</translation>
    </message>
    <message>
        <source>Convector</source>
        <translation>Konvektor</translation>
    </message>
    <message>
        <source>Direct cooling</source>
        <translation>Direktkühlung</translation>
    </message>
    <message>
        <source>Least flow</source>
        <translation>Kleinster Volumenstrom</translation>
    </message>
    <message>
        <source>Heating flow</source>
        <translation>Volumenstrom beim Heizen</translation>
    </message>
    <message>
        <source>Air off at most</source>
        <translation>Luft aus höchstens</translation>
    </message>
    <message>
        <source>Greatest flow</source>
        <translation>Größter Volumenstrom</translation>
    </message>
    <message>
        <source>Box and coil lose</source>
        <translation>Regler und Register verlieren</translation>
    </message>
    <message>
        <source>NC through its casing</source>
        <translation>NC durch das Gehäuse</translation>
    </message>
    <message>
        <source>NC along the duct</source>
        <translation>NC durch die Leitung</translation>
    </message>
    <message>
        <source>Reheat, greatest</source>
        <translation>Nachheizung, größte</translation>
    </message>
    <message>
        <source>at most %1 NC</source>
        <translation>höchstens NC %1</translation>
    </message>
    <message>
        <source>put by hand</source>
        <translation>von Hand gesetzt</translation>
    </message>
    <message>
        <source>beside the air</source>
        <translation>neben der Luft</translation>
    </message>
    <message>
        <source>Chosen</source>
        <translation>Gewählt</translation>
    </message>
    <message>
        <source>Cooling left for it</source>
        <translation>Kühllast, die ihm bleibt</translation>
    </message>
    <message>
        <source>It cools</source>
        <translation>Es kühlt</translation>
    </message>
    <message>
        <source>Heating left for it</source>
        <translation>Heizlast, die ihm bleibt</translation>
    </message>
    <message>
        <source>It heats</source>
        <translation>Es heizt</translation>
    </message>
    <message>
        <source>Sound power, dB(A)</source>
        <translation>Schallleistung, dB(A)</translation>
    </message>
    <message>
        <source>Flow box FB-%1</source>
        <translation>Volumenstromregler FB-%1</translation>
    </message>
    <message>
        <source>Fan coil FC-%1</source>
        <translation>Gebläsekonvektor FC-%1</translation>
    </message>
    <message>
        <source>Radiator RAD-%1</source>
        <translation>Heizkörper RAD-%1</translation>
    </message>
    <message>
        <source>Chilled beam CB-%1</source>
        <translation>Kühlbalken CB-%1</translation>
    </message>
    <message>
        <source>Direct cooling DC-%1</source>
        <translation>Direktkühlung DC-%1</translation>
    </message>
    <message>
        <source>Cooling coil: click to put it in where it usually stands, or drag it into the unit</source>
        <translation>Kühlregister: Klick setzt das Bauteil an seine übliche Stelle; oder ins Gerät ziehen</translation>
    </message>
    <message>
        <source>Heating coil: click to put it in where it usually stands, or drag it into the unit</source>
        <translation>Heizregister: Klick setzt das Bauteil an seine übliche Stelle; oder ins Gerät ziehen</translation>
    </message>
    <message>
        <source>Filter: click to put it in where it usually stands, or drag it into the unit</source>
        <translation>Filter: Klick setzt das Bauteil an seine übliche Stelle; oder ins Gerät ziehen</translation>
    </message>
    <message>
        <source>Heat recovery: click to put it in where it usually stands, or drag it into the unit</source>
        <translation>Wärmerückgewinnung: Klick setzt das Bauteil an seine übliche Stelle; oder ins Gerät ziehen</translation>
    </message>
    <message>
        <source>Humidifier: click to put it in where it usually stands, or drag it into the unit</source>
        <translation>Befeuchter: Klick setzt das Bauteil an seine übliche Stelle; oder ins Gerät ziehen</translation>
    </message>
    <message>
        <source>Mixing of return air: click to put it in where it usually stands, or drag it into the unit</source>
        <translation>Umluftmischung: Klick setzt das Bauteil an seine übliche Stelle; oder ins Gerät ziehen</translation>
    </message>
    <message>
        <source>Put a part into a duct (I)</source>
        <translation>Bauteil in einen Kanal setzen (I)</translation>
    </message>
    <message>
        <source>Part</source>
        <translation>Bauteil</translation>
    </message>
    <message>
        <source>Part in a duct</source>
        <translation>Bauteil im Kanal</translation>
    </message>
    <message>
        <source>Parts in ducts</source>
        <translation>Bauteile in Kanälen</translation>
    </message>
    <message>
        <source>From the unit’s end</source>
        <translation>Vom Ende am Gerät</translation>
    </message>
    <message>
        <source>Resists fire</source>
        <translation>Feuerwiderstand</translation>
    </message>
    <message>
        <source>nothing asked</source>
        <translation>nichts verlangt</translation>
    </message>
    <message>
        <source>For smoke too</source>
        <translation>Auch bei Rauch</translation>
    </message>
    <message>
        <source>Blade angle, °</source>
        <translation>Klappenwinkel, °</translation>
    </message>
    <message>
        <source>Its loss, typed</source>
        <translation>Sein Druckverlust, eingegeben</translation>
    </message>
    <message>
        <source>empty: the catalogue’s</source>
        <translation>leer: nach Katalog</translation>
    </message>
    <message>
        <source>Its k</source>
        <translation>Sein ζ</translation>
    </message>
    <message>
        <source>or its loss</source>
        <translation>oder sein Verlust</translation>
    </message>
    <message>
        <source>    at</source>
        <translation>    bei</translation>
    </message>
    <message>
        <source>Itself</source>
        <translation>Es selbst</translation>
    </message>
    <message>
        <source>with transitions</source>
        <translation>mit Übergängen</translation>
    </message>
    <message>
        <source>by its catalogue</source>
        <translation>nach Katalog</translation>
    </message>
    <message>
        <source>on its face</source>
        <translation>auf der Anströmfläche</translation>
    </message>
    <message>
        <source>no model</source>
        <translation>kein Modell</translation>
    </message>
    <message>
        <source>its loss is typed</source>
        <translation>Verlust eingegeben</translation>
    </message>
    <message>
        <source>Take it out of the duct</source>
        <translation>Aus dem Kanal nehmen</translation>
    </message>
    <message>
        <source>Take them out of their ducts</source>
        <translation>Aus ihren Kanälen nehmen</translation>
    </message>
    <message>
        <source>Put in</source>
        <translation>Einsetzen</translation>
    </message>
    <message>
        <source>Put in each</source>
        <translation>In jeden einsetzen</translation>
    </message>
    <message>
        <source>a part …</source>
        <translation>ein Bauteil …</translation>
    </message>
    <message>
        <source>Parts in it</source>
        <translation>Bauteile darin</translation>
    </message>
    <message>
        <source>from the unit on</source>
        <translation>vom Gerät aus</translation>
    </message>
    <message>
        <source>Take it out</source>
        <translation>Herausnehmen</translation>
    </message>
    <message>
        <source>Take them out</source>
        <translation>Herausnehmen</translation>
    </message>
    <message>
        <source>Let the rule choose</source>
        <translation>Nach Regel wählen</translation>
    </message>
    <message>
        <source>Remove parts from ducts</source>
        <translation>Bauteile aus Kanälen nehmen</translation>
    </message>
    <message>
        <source>Move a part</source>
        <translation>Bauteil verschieben</translation>
    </message>
    <message>
        <source>at the flow below</source>
        <translation>beim Volumenstrom darunter</translation>
    </message>
    <message>
        <source>on the velocity of the duct</source>
        <translation>auf die Geschwindigkeit im Kanal</translation>
    </message>
    <message>
        <source>by rule: as its duct carries</source>
        <translation>nach Regel: wie der Kanal führt</translation>
    </message>
    <message>
        <source>by rule: kind and number</source>
        <translation>nach Regel: Art und Nummer</translation>
    </message>
    <message>
        <source>no figures yet: the duct has no size</source>
        <translation>noch keine Werte: der Kanal hat keine Größe</translation>
    </message>
    <message>
        <source>It is no longer in the project</source>
        <translation>Es ist nicht mehr im Projekt</translation>
    </message>
    <message>
        <source>Click a duct where the part is to stand; drag a part along its duct to move it. Esc ends.</source>
        <translation>Auf den Kanal klicken, wo das Bauteil sitzen soll; ein Bauteil wird entlang seines Kanals gezogen. Esc beendet.</translation>
    </message>
    <message>
        <source>it goes to the middle; on the plan it is put with a click and dragged along</source>
        <translation>es kommt in die Mitte; im Plan wird es mit einem Klick gesetzt und gezogen</translation>
    </message>
    <message>
        <source>fire damper</source>
        <translation>Brandschutzklappe</translation>
    </message>
    <message>
        <source>smoke damper</source>
        <translation>Rauchschutzklappe</translation>
    </message>
    <message>
        <source>volume damper</source>
        <translation>Drosselklappe</translation>
    </message>
    <message>
        <source>attenuator</source>
        <translation>Schalldämpfer</translation>
    </message>
    <message>
        <source>heater</source>
        <translation>Erhitzer</translation>
    </message>
    <message>
        <source>filter</source>
        <translation>Filter</translation>
    </message>
    <message>
        <source>measuring cross</source>
        <translation>Messkreuz</translation>
    </message>
    <message>
        <source>flexible connector</source>
        <translation>elastischer Stutzen</translation>
    </message>
    <message>
        <source>access door</source>
        <translation>Revisionsöffnung</translation>
    </message>
    <message>
        <source>own part</source>
        <translation>eigenes Bauteil</translation>
    </message>
    <message>
        <source>Fire damper</source>
        <translation>Brandschutzklappe</translation>
    </message>
    <message>
        <source>Smoke damper</source>
        <translation>Rauchschutzklappe</translation>
    </message>
    <message>
        <source>Volume damper</source>
        <translation>Drosselklappe</translation>
    </message>
    <message>
        <source>Attenuator</source>
        <translation>Schalldämpfer</translation>
    </message>
    <message>
        <source>Heater</source>
        <translation>Erhitzer</translation>
    </message>
    <message>
        <source>Measuring cross</source>
        <translation>Messkreuz</translation>
    </message>
    <message>
        <source>Flexible connector</source>
        <translation>Elastischer Stutzen</translation>
    </message>
    <message>
        <source>Access door</source>
        <translation>Revisionsöffnung</translation>
    </message>
    <message>
        <source>Own part</source>
        <translation>Eigenes Bauteil</translation>
    </message>
    <message>
        <source>Walls around</source>
        <translation>Wände ringsum</translation>
    </message>
    <message>
        <source>Compartment</source>
        <translation>Brandabschnitt</translation>
    </message>
    <message>
        <source>not rated</source>
        <translation>ohne Anforderung</translation>
    </message>
    <message>
        <source>Smoke too</source>
        <translation>Auch Rauch</translation>
    </message>
    <message>
        <source>Put a damper here</source>
        <translation>Hier eine Klappe setzen</translation>
    </message>
    <message>
        <source>Change this damper</source>
        <translation>Diese Klappe ändern</translation>
    </message>
    <message>
        <source>Fire dampers</source>
        <translation>Brandschutzklappen</translation>
    </message>
    <message>
        <source>Fire resistance</source>
        <translation>Feuerwiderstand</translation>
    </message>
    <message>
        <source>resist fire: all inside walls between these rooms and the others</source>
        <translation>widerstehen Feuer: alle Innenwände zwischen diesen Räumen und den anderen</translation>
    </message>
    <message>
        <source>Fire</source>
        <translation>Brand</translation>
    </message>
    <message>
        <source>Smoke</source>
        <translation>Rauch</translation>
    </message>
</context>
</TS>
