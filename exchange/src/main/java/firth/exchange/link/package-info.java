/**
 * Firth over HTTP, as the programs on hosts and at stores speak to it.
 *
 * <p>May use: {@code exchange}.
 */
@NullMarked
package firth.exchange.link;

import org.jspecify.annotations.NullMarked;
