package firth.core.objective;

import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/** Compares the age over a period with the objective then in force. */
public final class Attainment {

    private final List<Breach> breaches = new ArrayList<>();
    private double promised;
    private double broken;
    private boolean open;
    private long openFrom;
    private long openTo;
    private long openWorst;

    private Attainment(AgePieces pieces, ObjectiveTimeline objectives) {
        int stretch = 0;
        for (int i = within(pieces, objectives); i < pieces.size(); i++) {
            long from = pieces.fromMs(i);
            while (objectives.toMs(stretch) <= from) {
                stretch++;
            }
            for (int s = stretch; s < objectives.stretches() && objectives.fromMs(s) < pieces.toMs(i); s++) {
                long low = Math.max(from, objectives.fromMs(s));
                long high = Math.min(pieces.toMs(i), objectives.toMs(s));
                if (low < high && objectives.objectiveMs(s) != ObjectiveTimeline.NONE) {
                    promised += high - low;
                    weigh(pieces, i, low, high, objectives.objectiveMs(s));
                }
            }
        }
        close();
    }

    /** Weighs the pieces in turn where one objective, or none, holds all the time; how many that were. */
    private int within(AgePieces pieces, ObjectiveTimeline objectives) {
        int n = pieces.size();
        int stretch = 0;
        while (n > 0 && objectives.toMs(stretch) <= pieces.fromMs(0)) {
            stretch++;
        }
        if (n == 0 || objectives.toMs(stretch) < pieces.toMs(n - 1)) {
            return 0;
        }
        long objective = objectives.objectiveMs(stretch);
        if (objective != ObjectiveTimeline.NONE) {
            promised = pieces.toMs(n - 1) - pieces.fromMs(0);
            AgePieces.Block block = new AgePieces.Block();
            for (int b = 0; b < pieces.blocks(); b++) {
                if (pieces.mayExceed(b, objective)) {
                    pieces.read(b, block);
                    weigh(pieces, pieces.firstOf(b), block, objective);
                }
            }
        }
        return n;
    }

    public static Attainment of(AgePieces pieces, ObjectiveTimeline objectives) {
        return new Attainment(pieces, objectives);
    }

    public List<Breach> breaches() {
        return List.copyOf(breaches);
    }

    /** 1 less the share of the promised time that was broken; empty where nothing was promised. */
    public Optional<Double> share() {
        return promised == 0 ? Optional.empty() : Optional.of(1 - broken / promised);
    }

    private void weigh(AgePieces pieces, int first, AgePieces.Block block, long objective) {
        for (int i = 0; i < block.size; i++) {
            if (Math.max(block.age[i], block.ageAtEnd[i]) > objective) {
                weigh(pieces, first + i, block.from[i], block.from[i + 1], objective);
            }
        }
    }

    private void weigh(AgePieces pieces, int i, long low, long high, long objective) {
        int slope = pieces.slope(i);
        long ageAtLow = pieces.ageMs(i) + slope * (low - pieces.fromMs(i));
        long ageAtHigh = ageAtLow + slope * (high - low);
        long worst = Math.max(ageAtLow, ageAtHigh);
        if (worst <= objective) {
            return;
        }
        long from = ageAtLow > objective ? low : low + objective - ageAtLow;
        long to = ageAtHigh > objective ? high : slope < 0 ? low + ageAtLow - objective : high;
        broken += to - from;
        if (!open || openTo != from) {
            close();
            open = true;
            openFrom = from;
            openWorst = worst;
        }
        openTo = to;
        openWorst = Math.max(openWorst, worst);
    }

    private void close() {
        if (open) {
            breaches.add(new Breach(Instant.ofEpochMilli(openFrom), Instant.ofEpochMilli(openTo), openWorst));
            open = false;
        }
    }
}
