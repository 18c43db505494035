/**
 * Plans of restores, and restores somebody began: their checklists and how they ended.
 *
 * <p>May use of the server: {@code platform}, {@code evaluation}, {@code intake}, {@code documents}.
 */
@NullMarked
package firth.server.restore;

import org.jspecify.annotations.NullMarked;
