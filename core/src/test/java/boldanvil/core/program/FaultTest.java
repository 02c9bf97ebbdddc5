package boldanvil.core.program;

import static org.assertj.core.api.Assertions.assertThat;

import org.junit.jupiter.api.Test;

class FaultTest {
    @Test
    void eachBitHasItsSentence() {
        assertThat(Fault.describe(Fault.DIVISION_BY_ZERO)).contains("divided by zero").doesNotContain("not a number");
        assertThat(Fault.describe(Fault.NOT_A_NUMBER)).contains("not a number").doesNotContain("divided");
        assertThat(Fault.describe(3)).contains("divided by zero").contains("not a number");
    }
}
