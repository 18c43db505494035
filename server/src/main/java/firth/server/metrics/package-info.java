/**
 * What a monitoring system may watch.
 *
 * <p>May use of the server: {@code platform}, {@code evaluation}, {@code selfcopy}.
 */
@NullMarked
package firth.server.metrics;

import org.jspecify.annotations.NullMarked;
