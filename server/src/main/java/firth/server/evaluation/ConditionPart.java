package firth.server.evaluation;

import jakarta.inject.Singleton;

/** What is wrong with a database by itself. */
@Singleton
class ConditionPart implements SummaryPart<Condition> {

    private final FindingsNow findings;

    ConditionPart(FindingsNow findings) {
        this.findings = findings;
    }

    @Override
    public Condition of(Answered one) {
        return findings.condition(one.now(), one.answer());
    }

    @Override
    public Object told(Condition value) {
        return value.findings();
    }
}
