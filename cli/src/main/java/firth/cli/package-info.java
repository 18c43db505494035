/**
 * Commands without a server: check, import, verify-record, restore-self.
 *
 * <p>May use: {@code exchange}, {@code store} and {@code wording}.
 */
@NullMarked
package firth.cli;

import org.jspecify.annotations.NullMarked;
