/**
 * Facts coming in and going out, whatever they are written as: fleet files, tables, what people state on a page; who may say
 * what, and what became of each line.
 *
 * <p>May use of the server: {@code platform}, {@code evaluation}.
 */
@NullMarked
package firth.server.intake;

import org.jspecify.annotations.NullMarked;
