package firth.core.findings;

import firth.core.model.PolicyVersion;

/**
 * One change of one value of a policy.
 *
 * @param path where the value stands; one that ends in {@code +} adds to a list
 * @param from what it is now, as it is written; empty where it is not there
 * @param to what it becomes, as it is written; empty where it is taken away
 * @param size how far the change goes: the doublings or halvings of a duration, a few for what is switched or added
 * @param result the policy with the change
 */
public record PolicyChange(String path, String from, String to, double size, PolicyVersion result) {}
