/**
 * Saltmarsh Ferries: a made-up fleet, and the stand-ins for what lies outside Firth: runners, the files of
 * stores, a mail server, an identity provider.
 *
 * <p>May use: {@code exchange}, {@code store} and {@code agent}; {@code live} also {@code servers}.
 */
@NullMarked
package firth.demo;

import org.jspecify.annotations.NullMarked;
