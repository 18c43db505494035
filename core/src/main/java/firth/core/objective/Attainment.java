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
        for (int i = 0; i < pieces.size(); i++) {
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

    private void weigh(AgePieces pieces, int i, long low, long high, long objective) {
        long ageAtLow = pieces.grows(i) ? pieces.ageMs(i) + low - pieces.fromMs(i) : pieces.ageMs(i);
        long exceeded = ageAtLow > objective ? low : pieces.grows(i) ? low + objective - ageAtLow : high;
        if (exceeded >= high) {
            return;
        }
        long worst = pieces.grows(i) ? ageAtLow + high - low : ageAtLow;
        broken += high - exceeded;
        if (!open || openTo != exceeded) {
            close();
            open = true;
            openFrom = exceeded;
            openWorst = worst;
        }
        openTo = high;
        openWorst = Math.max(openWorst, worst);
    }

    private void close() {
        if (open) {
            breaches.add(new Breach(Instant.ofEpochMilli(openFrom), Instant.ofEpochMilli(openTo), openWorst));
            open = false;
        }
    }
}
