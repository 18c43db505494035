/**
 * Recovery sheets, written whenever facts changed.
 *
 * <p>The trade's term beside ours: a recovery sheet is a runbook.
 *
 * <p>May use of the server: {@code platform}, {@code evaluation}, {@code documents}, {@code restore} for recipes.
 */
@NullMarked
package firth.server.sheets;

import org.jspecify.annotations.NullMarked;
