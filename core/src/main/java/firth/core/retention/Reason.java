package firth.core.retention;

import firth.core.model.RungUnit;
import firth.core.model.Worded;

/** Why a copy is needed or unusable, where the reason names no other backup (docs/semantics.md, "Retention"). */
public enum Reason implements Worded {
    REACH_ANCHOR("reach-anchor"),
    INSIDE_REACH("inside-reach"),
    LOG_FOR_REACH("log-for-reach"),
    NEWEST_FULLS("newest-fulls"),
    LOG_FOR_FULLS("log-for-fulls"),
    RUNG_DAY("rung-day"),
    RUNG_WEEK("rung-week"),
    RUNG_MONTH("rung-month"),
    RUNG_YEAR("rung-year"),
    NEWEST_CONFIGS("newest-configs"),
    LOCKED("locked"),
    HELD("held"),
    FLOOR("floor"),
    LOG_AWAITED("log-awaited"),
    WAITING("waiting"),
    COPY_PENDING("copy-pending"),
    NO_RULE("no-rule"),
    CHAIN_BROKEN("chain-broken"),
    TORN("torn");

    private final String word;

    Reason(String word) {
        this.word = word;
    }

    @Override
    public String word() {
        return word;
    }

    static Reason rung(RungUnit unit) {
        return switch (unit) {
            case DAY -> RUNG_DAY;
            case WEEK -> RUNG_WEEK;
            case MONTH -> RUNG_MONTH;
            case YEAR -> RUNG_YEAR;
        };
    }
}
