/**
 * Commands without a server: check, import, observe, verify-record, restore-self, and agent and runner from their own modules.
 *
 * <p>May use: {@code exchange}, {@code store}, {@code wording}, {@code engines}, {@code agent} and {@code runner}.
 */
@NullMarked
package firth.cli;

import org.jspecify.annotations.NullMarked;
