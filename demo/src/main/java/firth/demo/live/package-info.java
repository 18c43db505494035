/**
 * A small real fleet on this machine: three engines under a gentle load, Firth's own programs beside them, and faults to try
 * (docs/live.md).
 *
 * <p>May use: {@code demo}, {@code exchange} and {@code servers}.
 */
@NullMarked
package firth.demo.live;

import org.jspecify.annotations.NullMarked;
