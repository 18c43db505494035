package firth.server.policies;

import firth.core.evaluation.Evaluation;
import firth.core.findings.Followers;
import firth.server.evaluation.Answered;
import firth.server.evaluation.PolicyFollowers;
import firth.server.evaluation.SummaryPart;
import firth.wording.Wording;
import jakarta.inject.Singleton;
import java.util.Optional;

/** How a database does under the policy it follows. */
@Singleton
class FollowerPart implements SummaryPart<FollowerPart.Follows> {

    private final PolicyFollowers following;

    FollowerPart(PolicyFollowers following) {
        this.following = following;
    }

    /**
     * One database.
     *
     * @param graded its grade as pages name it
     * @param attainment of its mishap objective
     * @param habits how its backups go, as the rules of its policy see it
     */
    record Follows(String grade, String graded, Optional<Double> attainment, Followers habits) {}

    @Override
    public Follows of(Answered one) {
        Evaluation e = one.answer();
        return new Follows(
                e.grade().word(),
                Wording.grade(e),
                e.mishap().achieved().attainment(),
                following.inCommon(one.alone()));
    }
}
