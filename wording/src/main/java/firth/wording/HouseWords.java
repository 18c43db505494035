package firth.wording;

import firth.core.findings.Detail;

/** What is wrong with Firth itself, in words. */
final class HouseWords {

    private HouseWords() {}

    static Said recordTurned(Detail.RecordTurned d) {
        String what = d.records() == 1 ? "a record" : d.records() + " records";
        return new Said(
                d.who() + (d.taken() ? " turned " : " tried to turn ") + what,
                d.who() + " said that " + d.record() + ", whose " + d.field() + " is " + d.known() + ", has the "
                        + d.field() + " " + d.said()
                        + (d.records() == 1 ? "" : ", and much the same of " + (d.records() - 1) + " more") + ". "
                        + (d.taken() ? "It now counts as it was said." : "What was known stands."),
                d.taken()
                        ? "Check whether two facts share an id; the record says what was known before."
                        : "Find out what sends records under ids that are taken.");
    }

    static Said ownFactsNotCopied(Detail.OwnFactsNotCopied d) {
        return new Said(
                "Firth's own facts were not copied",
                d.age()
                                .map(a -> "The newest copy is " + Wording.measured(a) + " old")
                                .orElse("There is no copy yet")
                        + "; one is promised every " + Wording.duration(d.every()) + ". "
                        + (d.trouble().isEmpty() ? "" : d.trouble() + "."),
                writable(d.directory()));
    }

    static Said notDelivered(Detail.NotDelivered d) {
        return new Said(
                (d.messages() == 1 ? "a message to " : d.messages() + " messages to ") + d.list() + " did not arrive",
                "The last: " + d.title() + "; " + d.told() + ".",
                "Check that the mail server or the address answers; what waits is tried again by itself.");
    }

    static Said sheetsStale(Detail.SheetsStale d) {
        return new Said(
                "the recovery sheets are stale",
                d.trouble().isEmpty()
                        ? "Facts changed " + Wording.measured(d.waiting()) + " ago, and no sheet was written since."
                        : d.trouble() + ".",
                writable(d.directory()));
    }

    private static String writable(String directory) {
        return "Check that " + directory + " can be written to and has room; the next try follows within a minute.";
    }
}
