/**
 * What a monitoring system may watch.
 *
 * <p>May use of the server: {@code platform}, {@code evaluation}, {@code selfcopy}.
 */
package firth.server.metrics;
