package tender.client;

import tender.api.Problem;
import tender.api.ProblemCode;

/** A call that the service answered with a problem, or that did not reach it. */
final class CallFailure extends RuntimeException {
    private static final long serialVersionUID = 1L;

    private final int exitCode;
    private final transient Problem problem;

    CallFailure(Problem problem) {
        super(problem.detail(), null, false, true);
        this.exitCode = ProblemCode.ofWord(problem.code()).exitCode();
        this.problem = problem;
    }

    static CallFailure of(ProblemCode code, String detail) {
        return new CallFailure(Problem.of(code, detail, ""));
    }

    boolean is(ProblemCode code) {
        return problem.code().equals(code.word());
    }

    int exitCode() {
        return exitCode;
    }

    Problem problem() {
        return problem;
    }
}
