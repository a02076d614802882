"""The names of the success criteria in German, for statements."""

from __future__ import annotations

_ROWS = """
1.1.1 Nicht-Text-Inhalt
1.2.1 Reines Audio und reines Video (aufgezeichnet)
1.2.2 Untertitel (aufgezeichnet)
1.2.3 Audiodeskription oder Medienalternative (aufgezeichnet)
1.2.4 Untertitel (live)
1.2.5 Audiodeskription (aufgezeichnet)
1.3.1 Info und Beziehungen
1.3.2 Bedeutungstragende Reihenfolge
1.3.3 Sensorische Eigenschaften
1.3.4 Ausrichtung
1.3.5 Eingabezweck bestimmen
1.4.1 Benutzung von Farbe
1.4.2 Audio-Steuerelement
1.4.3 Kontrast (Minimum)
1.4.4 Textgröße ändern
1.4.5 Bilder von Text
1.4.10 Automatischer Umbruch
1.4.11 Nicht-Text-Kontrast
1.4.12 Textabstand
1.4.13 Eingeblendeter Inhalt bei Darüberschweben oder Fokus
2.1.1 Tastatur
2.1.2 Keine Tastaturfalle
2.1.4 Tastaturkürzel
2.2.1 Zeiteinteilung anpassbar
2.2.2 Pausieren, beenden, ausblenden
2.3.1 Grenzwert von dreimaligem Blitzen oder weniger
2.4.1 Blöcke umgehen
2.4.2 Seite mit Titel versehen
2.4.3 Fokus-Reihenfolge
2.4.4 Linkzweck (im Kontext)
2.4.5 Verschiedene Methoden
2.4.6 Überschriften und Beschriftungen
2.4.7 Fokus sichtbar
2.4.11 Fokus nicht verdeckt (Minimum)
2.5.1 Zeigergesten
2.5.2 Zeigerabbruch
2.5.3 Beschriftung im Namen
2.5.4 Betätigung durch Bewegung
2.5.7 Ziehbewegungen
2.5.8 Zielgröße (Minimum)
3.1.1 Sprache der Seite
3.1.2 Sprache von Teilen
3.2.1 Bei Fokus
3.2.2 Bei Eingabe
3.2.3 Einheitliche Navigation
3.2.4 Einheitliche Bezeichnung
3.2.6 Einheitliche Hilfe
3.3.1 Fehlererkennung
3.3.2 Beschriftungen oder Anweisungen
3.3.3 Fehlerempfehlung
3.3.4 Fehlervermeidung (rechtlich, finanziell, Daten)
3.3.7 Redundante Eingabe
3.3.8 Barrierefreie Authentifizierung (Minimum)
4.1.2 Name, Rolle, Wert
4.1.3 Statusmeldungen
"""

GERMAN_NAMES: dict[str, str] = {
    number: name for number, _, name in (line.partition(" ") for line in _ROWS.strip().splitlines())
}
