/**
 * A document for people and the ways to write it: a page for print, Markdown, plain text.
 *
 * <p>May use nothing else of the server.
 */
package firth.server.documents;
