/**
 * Saltmarsh Ferries: a made-up fleet, and the stand-ins for what lies outside Firth: runners, agents, object stores,
 * a mail server, an identity provider.
 *
 * <p>May use: {@code exchange} and {@code store}.
 */
@NullMarked
package firth.demo;

import org.jspecify.annotations.NullMarked;
