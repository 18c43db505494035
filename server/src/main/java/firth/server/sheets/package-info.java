/**
 * Recovery sheets, written whenever facts changed.
 *
 * <p>May use of the server: {@code platform}, {@code evaluation}, {@code documents}.
 */
package firth.server.sheets;
