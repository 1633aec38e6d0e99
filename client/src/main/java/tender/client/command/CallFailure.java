package tender.client.command;

import tender.api.Problem;
import tender.api.ProblemCode;

/** A call that the service answered with a problem, or that did not reach it. */
public final class CallFailure extends RuntimeException {
    private static final long serialVersionUID = 1L;

    private final int exitCode;
    private final transient Problem problem;

    public CallFailure(Problem problem) {
        super(problem.detail(), null, false, true);
        this.exitCode = ProblemCode.ofWord(problem.code()).exitCode();
        this.problem = problem;
    }

    public static CallFailure of(ProblemCode code, String detail) {
        return new CallFailure(Problem.of(code, detail, ""));
    }

    public boolean is(ProblemCode code) {
        return problem.code().equals(code.word());
    }

    public int exitCode() {
        return exitCode;
    }

    public Problem problem() {
        return problem;
    }
}
