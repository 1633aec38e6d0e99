package tender.e2e;

import static com.tngtech.archunit.base.DescribedPredicate.describe;
import static com.tngtech.archunit.lang.syntax.ArchRuleDefinition.noClasses;
import static com.tngtech.archunit.library.dependencies.SlicesRuleDefinition.slices;
import static org.assertj.core.api.Assertions.assertThat;

import com.tngtech.archunit.base.DescribedPredicate;
import com.tngtech.archunit.core.domain.JavaClass;
import com.tngtech.archunit.core.domain.JavaClasses;
import com.tngtech.archunit.core.domain.JavaPackage;
import com.tngtech.archunit.core.importer.ClassFileImporter;
import com.tngtech.archunit.library.dependencies.SliceAssignment;
import com.tngtech.archunit.library.dependencies.SliceIdentifier;
import java.nio.file.Path;
import java.util.Arrays;
import java.util.List;
import java.util.stream.Stream;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;

/** Who may use what, as the architecture says. */
class ArchitectureTest {
    private static final List<String> LAYER_WORDS =
            List.of("util", "utils", "helper", "helpers", "impl", "common", "manager", "dto", "base", "misc");
    private static JavaClasses all;

    @BeforeAll
    static void read() {
        all = new ClassFileImporter()
                .importPaths(Stream.of("core", "api", "io", "store", "service", "client", "standins", "bench")
                        .map(module -> Shell.ROOT.resolve(module + "/target/classes"))
                        .toArray(Path[]::new));
        assertThat(all.size()).isGreaterThan(200);
    }

    private static void mayUse(String module, String... others) {
        String[] rest = Stream.of("core", "api", "io", "store", "service", "client", "standins", "bench")
                .filter(m -> !m.equals(module) && !Arrays.asList(others).contains(m))
                .map(m -> "tender." + m + "..")
                .toArray(String[]::new);
        noClasses()
                .that()
                .resideInAPackage("tender." + module + "..")
                .should()
                .dependOnClassesThat()
                .resideInAnyPackage(rest)
                .check(all);
    }

    @Test
    void modulesUseWhatTheTableAllows() {
        mayUse("core");
        mayUse("api", "core");
        mayUse("io", "core");
        mayUse("store", "core");
        mayUse("service", "core", "api", "io", "store");
        mayUse("client", "core", "api", "io");
        mayUse("standins", "core");
    }

    @Test
    void coreTouchesNothingOutsideAndNoClock() {
        noClasses()
                .that()
                .resideInAPackage("tender.core..")
                .should()
                .dependOnClassesThat()
                .resideInAnyPackage(
                        "java.net..",
                        "java.nio.file..",
                        "java.nio.channels..",
                        "java.sql..",
                        "org.slf4j..",
                        "java.util.concurrent..")
                .check(all);
        noClasses()
                .that()
                .resideInAPackage("tender.core..")
                .should()
                .dependOnClassesThat()
                .haveFullyQualifiedName("java.util.Random")
                .orShould()
                .dependOnClassesThat()
                .haveFullyQualifiedName("java.lang.Thread")
                .orShould()
                .dependOnClassesThat()
                .haveFullyQualifiedName("java.io.File")
                .check(all);
        noClasses()
                .that()
                .resideInAPackage("tender.core..")
                .should()
                .callMethod(java.time.Instant.class, "now")
                .orShould()
                .callMethod(System.class, "getenv", String.class)
                .orShould()
                .callMethod(System.class, "currentTimeMillis")
                .check(all);
    }

    @Test
    void theStaffsPageHoldsNeitherTheMasterKeyNorAnyConnector() {
        noClasses()
                .that()
                .resideInAPackage("tender.service.collect..")
                .should()
                .dependOnClassesThat()
                .resideInAnyPackage(
                        "tender.store.secret..",
                        "tender.io..",
                        "tender.service.gateway..",
                        "tender.service.profile..",
                        "tender.store.credential..",
                        "tender.store.office..")
                .check(all);
    }

    @Test
    void sqlAndSocketsStayWhereTheyBelong() {
        noClasses()
                .that()
                .resideOutsideOfPackages("tender.store..", "tender.bench..") // a benchmark's baseline is bare JDBC
                .should()
                .dependOnClassesThat()
                .resideInAnyPackage("java.sql..", "org.postgresql..")
                .check(all);
        noClasses()
                .that()
                .resideInAPackage("tender.service..")
                .should()
                .dependOnClassesThat()
                .resideInAnyPackage("org.apache.sshd..", "java.nio.channels..")
                .check(all.that(describe(
                        "not the data folder's lock", c -> !c.getSimpleName().startsWith("DataFolder"))));
    }

    /** One class takes the right to write a gateway, and one writes. */
    @Test
    void gatewaysAreWrittenInOnePlace() {
        noClasses()
                .that()
                .doNotHaveSimpleName("GatewayWriteLease")
                .should()
                .callMethodWhere(describe(
                        "takes a gateway's lease",
                        call -> call.getTargetOwner().getSimpleName().equals("WriterLeases")
                                && call.getName().equals("acquire")))
                .check(all);
        noClasses()
                .that(describe(
                        "others than the reconciler and the lease itself",
                        c -> !c.getName().contains("GatewayReconciler")
                                && !c.getName().contains("GatewayWriteLease")))
                .should()
                .dependOnClassesThat()
                .haveSimpleName("GatewayWriteLease")
                .check(all);
        for (String writing : List.of("apply", "undo", "reload", "arm", "disarm")) {
            noClasses()
                    .that(describe(
                            "of the service, others than the reconciler and its helper",
                            c -> c.getPackageName().startsWith("tender.service.")
                                    && !c.getName().contains("GatewayReconciler")
                                    && !c.getSimpleName().equals("ArmedRollback")))
                    .should()
                    .callMethodWhere(describe(
                            "writes to a gateway",
                            call -> call.getTargetOwner().isAssignableTo("tender.io.gateway.ManagementConnection")
                                    && call.getName().equals(writing)))
                    .check(all);
        }
    }

    /** Use cases know nothing of HTTP: its records, problems and fields are the routes' and views', and the web tier's own. */
    @Test
    void httpsWordsStayInRoutes() {
        DescribedPredicate<JavaClass> useCases = describe(
                "of the service, neither routes, nor views, nor the web tier",
                c -> c.getPackageName().startsWith("tender.service.")
                        && !c.getPackageName().equals("tender.service.http")
                        && !topLevel(c).matches(".*(Routes|View)")
                        && !topLevel(c).equals("StaffPage")); // a web listener of its own
        noClasses()
                .that(useCases)
                .should()
                .dependOnClassesThat(describe(
                        "HTTP's words",
                        c -> c.getPackageName().startsWith("tender.api")
                                || c.getName().equals("tender.service.http.ApiFailure")
                                || c.getName().equals("tender.core.wire.Fields")))
                .check(all);
        noClasses()
                .that()
                .implement("tender.service.job.JobKind")
                .should()
                .dependOnClassesThat(describe("routes", c -> topLevel(c).endsWith("Routes")))
                .check(all);
        noClasses()
                .that(describe("neither routes nor views", c -> !topLevel(c).matches(".*(Routes|View)")))
                .should()
                .dependOnClassesThat(describe(
                        "views",
                        c -> c.getPackageName().startsWith("tender.service.")
                                && topLevel(c).endsWith("View")))
                .check(all);
    }

    private static String topLevel(JavaClass c) {
        JavaClass at = c;
        while (at.getEnclosingClass().isPresent()) {
            at = at.getEnclosingClass().get();
        }
        return at.getSimpleName();
    }

    /** A file can be read and changed without another that needs it in turn. */
    @Test
    void filesFormNoCircle() {
        for (String module : List.of("service", "store", "api", "standins")) {
            slices().assignedFrom(new SliceAssignment() {
                        @Override
                        public String getDescription() {
                            return "files of " + module;
                        }

                        @Override
                        public SliceIdentifier getIdentifierOf(JavaClass c) {
                            return c.getPackageName().startsWith("tender." + module)
                                    ? SliceIdentifier.of(c.getPackageName() + "." + topLevel(c))
                                    : SliceIdentifier.ignore();
                        }
                    })
                    .should()
                    .beFreeOfCycles()
                    .check(all);
        }
    }

    @Test
    void packagesAreNamedForTheDomainAndFormNoCircle() {
        for (JavaPackage p : all.getPackage("tender").getSubpackagesInTree()) {
            assertThat(LAYER_WORDS).as(p.getName()).doesNotContain(p.getRelativeName());
        }
        for (String module : List.of("core", "io", "store", "service", "standins")) {
            slices().matching("tender." + module + ".(*)..")
                    .should()
                    .beFreeOfCycles()
                    .check(all);
        }
    }
}
