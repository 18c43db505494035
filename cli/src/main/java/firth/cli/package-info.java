/**
 * Commands without a server: check, import, observe, verify-record, restore-self, and agent from its own module.
 *
 * <p>May use: {@code exchange}, {@code store}, {@code wording}, {@code engines} and {@code agent}.
 */
@NullMarked
package firth.cli;

import org.jspecify.annotations.NullMarked;
