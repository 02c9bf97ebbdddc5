package boldanvil.app;

import static com.tngtech.archunit.base.DescribedPredicate.not;
import static com.tngtech.archunit.core.domain.JavaClass.Predicates.resideInAPackage;
import static com.tngtech.archunit.core.domain.properties.HasName.Predicates.nameMatching;
import static com.tngtech.archunit.lang.syntax.ArchRuleDefinition.noClasses;
import static com.tngtech.archunit.library.dependencies.SlicesRuleDefinition.slices;
import static org.assertj.core.api.Assertions.assertThat;

import boldanvil.app.page.Page;
import com.tngtech.archunit.core.domain.JavaClasses;
import com.tngtech.archunit.core.importer.ClassFileImporter;
import com.tngtech.archunit.core.importer.ImportOption;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import org.junit.jupiter.api.Test;

/** The picture of the window in docs/architecture.md, as rules. */
class ArchitectureTest {
    private static final JavaClasses APP = new ClassFileImporter().withImportOption(new ImportOption.DoNotIncludeTests())
            .importPackages("boldanvil.app");

    /** Each package with those of the application it may use. */
    private static final String[][] MAY_USE = {
        {"widget"},
        {"model"},
        {"chart", "model", "widget"},
        {"page", "model", "widget"},
        {"sheet", "page", "model", "widget"},
        {"bench", "chart", "page", "model", "widget"},
        {"pages", "bench", "sheet", "chart", "page", "model", "widget"},
        {"shell", "pages", "page", "model", "widget"},
        {"cli", "shell", "model"},
    };

    @Test
    void packagesDependOnlyInTheDirectionOfThePicture() {
        for (String[] rule : MAY_USE) {
            List<String> other = new ArrayList<>();
            for (String[] r : MAY_USE) {
                if (!List.of(rule).contains(r[0])) {
                    other.add("boldanvil.app." + r[0] + "..");
                }
            }
            noClasses().that().resideInAPackage("boldanvil.app." + rule[0] + "..").should().dependOnClassesThat()
                    .resideInAnyPackage(other.toArray(String[]::new)).check(APP);
        }
        assertThat(APP.stream().map(c -> c.getPackageName().replace("boldanvil.app", "").replace(".", "")).distinct()
                .filter(p -> !p.isEmpty()))
                .containsExactlyInAnyOrderElementsOf(java.util.Arrays.stream(MAY_USE).map(r -> r[0]).toList());
    }

    @Test
    void packagesFormNoCircle() {
        slices().matching("boldanvil.app.(*)..").should().beFreeOfCycles().check(APP);
    }

    @Test
    void viewModelsKnowNoToolkit() {
        noClasses().that().resideInAPackage("boldanvil.app.model..").should().dependOnClassesThat()
                .resideInAnyPackage("javafx..", "org.kordamp..").check(APP);
    }

    @Test
    void theWindowKnowsNoPageByName() {
        noClasses().that().resideInAPackage("boldanvil.app.shell..").should().dependOnClassesThat().implement(Page.class).check(APP);
    }

    @Test
    void eachLibraryHasItsRoom() {
        noClasses().that().resideOutsideOfPackage("boldanvil.app.cli..").should().dependOnClassesThat().resideInAnyPackage("picocli..")
                .check(APP);
        noClasses().that().resideOutsideOfPackage("boldanvil.app.model..").should().dependOnClassesThat()
                .resideInAnyPackage("com.github.weisj..").check(APP);
        noClasses().that().resideOutsideOfPackage("boldanvil.app.cli..").should().dependOnClassesThat()
                .resideInAnyPackage("tools.jackson..").check(APP);
    }

    /** A later stage of lowering is none of the window's business: it sees what comes in and what comes out. */
    @Test
    void theApplicationUsesNoPassOfLowering() {
        noClasses().should().dependOnClassesThat(resideInAPackage("boldanvil.core.lower")
                .and(not(nameMatching("boldanvil\\.core\\.lower\\.(Lowered|LoweredSystem|LoweredSystem\\$.*|Names|Solver)")))).check(APP);
    }

    /** The modules around: what stands in for devices knows no window, and nothing knows the measurements. */
    @Test
    void modulesDependInOneDirection() throws IOException {
        assertThat(importing(Path.of("../standin/src/main/java"), "boldanvil.app")).isEmpty();
        assertThat(importing(Path.of("../standin/src/main/java"), "javafx")).isEmpty();
        for (String module : List.of("core", "standin", "app")) {
            assertThat(importing(Path.of("..", module, "src/main/java"), "boldanvil.benchmarks")).isEmpty();
        }
        assertThat(importing(Path.of("src/main/java"), "boldanvil.standin")).as("the stand-ins are found as a service").isEmpty();
        assertThat(importing(Path.of("../core/src/main/java"), "boldanvil.standin")).isEmpty();
    }

    private static List<Path> importing(Path source, String start) throws IOException {
        List<Path> found = new ArrayList<>();
        try (var files = Files.walk(source)) {
            for (Path f : files.filter(x -> x.toString().endsWith(".java")).toList()) {
                if (Files.readString(f).contains(start + ".")) {
                    found.add(f);
                }
            }
        }
        return found;
    }
}
