/**
 * The fleet as if chosen things were gone.
 *
 * <p>May use of the server: {@code platform}, {@code evaluation}, {@code restore}.
 */
package firth.server.rehearsal;
