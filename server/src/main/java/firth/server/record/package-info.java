/**
 * What people and programs did, and records somebody tried to turn.
 *
 * <p>May use of the server: {@code platform}, {@code evaluation}.
 */
package firth.server.record;
