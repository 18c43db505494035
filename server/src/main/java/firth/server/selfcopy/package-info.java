/**
 * Copies of Firth's own facts.
 *
 * <p>May use of the server: {@code platform}, {@code evaluation}.
 */
package firth.server.selfcopy;
