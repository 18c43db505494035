package firth.core.forecast;

import firth.core.model.RungUnit;
import java.time.Duration;
import java.util.Optional;

/**
 * Where copies of a kind of backup usually come to lie.
 *
 * @param after how long after the backup was done, or a log's end, usually
 * @param locked for how long copies there are locked
 * @param firstOf the calendar unit of whose fulls only the first comes there; empty where all do
 */
public record Landing(String store, Duration after, Optional<Duration> locked, Optional<RungUnit> firstOf) {

    Landing(String store, Duration after) {
        this(store, after, Optional.empty(), Optional.empty());
    }
}
