/**
 * What runners are to do now, what people ordered by hand, and what each start would cost and give.
 *
 * <p>May use of the server: {@code platform}, {@code evaluation}, {@code intake}, {@code cover}, {@code policies}.
 */
@NullMarked
package firth.server.runners;

import org.jspecify.annotations.NullMarked;
