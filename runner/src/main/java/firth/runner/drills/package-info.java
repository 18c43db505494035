/** The drill host: restores what Firth proposes into a place of its own, has the engine prove it, and tells how it went. */
@NullMarked
package firth.runner.drills;

import org.jspecify.annotations.NullMarked;
