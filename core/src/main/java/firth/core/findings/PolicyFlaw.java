package firth.core.findings;

import java.util.List;

/**
 * Something in a policy that does not fit something else in it, or those who follow it (docs/semantics.md, "Rules that
 * contradict themselves").
 *
 * @param code which rule of that page
 * @param path where the value stands in the policy as it is written, for instance {@code objective.mishap} or
 *     {@code retain.0.lock}
 * @param detail what does not fit
 * @param waysOut the smallest changes that resolve it and bring up nothing new, the smallest first; none where no single
 *     change does
 */
public record PolicyFlaw(String code, String path, FlawDetail detail, List<PolicyChange> waysOut) {

    public PolicyFlaw {
        waysOut = List.copyOf(waysOut);
    }

    /** Whether it is the same thing at the same place. */
    boolean isSameAs(PolicyFlaw other) {
        return code.equals(other.code) && path.equals(other.path);
    }

    PolicyFlaw with(List<PolicyChange> found) {
        return new PolicyFlaw(code, path, detail, found);
    }
}
