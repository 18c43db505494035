/**
 * A document for people and the ways to write it: a page for print, Markdown, plain text.
 *
 * <p>May use nothing else of the server.
 */
@NullMarked
package firth.server.documents;

import org.jspecify.annotations.NullMarked;
