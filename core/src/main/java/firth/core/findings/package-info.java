/**
 * What is wrong, how soon it needs somebody, and the way out; also the next moment at which time alone changes any of it.
 *
 * <p>May use: {@code forecast}, {@code stocktake} and what those rest on.
 */
@NullMarked
package firth.core.findings;

import org.jspecify.annotations.NullMarked;
