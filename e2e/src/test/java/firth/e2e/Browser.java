package firth.e2e;

import java.io.File;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.List;
import java.util.Map;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.openqa.selenium.By;
import org.openqa.selenium.Keys;
import org.openqa.selenium.OutputType;
import org.openqa.selenium.StaleElementReferenceException;
import org.openqa.selenium.TimeoutException;
import org.openqa.selenium.WebElement;
import org.openqa.selenium.chrome.ChromeDriver;
import org.openqa.selenium.chrome.ChromeDriverService;
import org.openqa.selenium.chrome.ChromeOptions;
import org.openqa.selenium.interactions.Actions;
import org.openqa.selenium.support.ui.WebDriverWait;

/** A headless Chromium as a person's hands and eyes. */
final class Browser implements AutoCloseable {

    private final ChromeDriver driver;
    private final Path profile;

    Browser() throws IOException {
        profile = Files.createTempDirectory("firth-browser");
        ChromeOptions options = new ChromeOptions();
        options.setBinary("/usr/bin/chromium");
        options.addArguments(
                "--headless=new",
                "--no-sandbox",
                "--disable-gpu",
                "--disable-dev-shm-usage",
                "--disable-quic",
                "--no-first-run",
                "--no-default-browser-check",
                "--disable-background-networking",
                "--disable-component-update",
                "--disable-sync",
                "--force-device-scale-factor=1",
                "--window-size=1280,800",
                "--user-data-dir=" + profile);
        options.setCapability("goog:loggingPrefs", Map.of("browser", "ALL"));
        ChromeDriverService service = new ChromeDriverService.Builder()
                .usingDriverExecutable(new File("/usr/bin/chromedriver"))
                .build();
        driver = new ChromeDriver(service, options);
        driver.executeCdpCommand(
                "Emulation.setDeviceMetricsOverride",
                Map.of("width", 1280, "height", 800, "deviceScaleFactor", 1, "mobile", false));
    }

    void open(String address) {
        driver.get(address);
    }

    String address() {
        return driver.getCurrentUrl();
    }

    /** The first element that fits, as soon as it is shown. */
    WebElement see(String css) {
        return until(() -> driver.findElements(By.cssSelector(css)).stream()
                .filter(WebElement::isDisplayed)
                .findFirst()
                .orElse(null));
    }

    /** Chooses a database by typing what it is called, where forms offer them so. */
    void chooseDatabase(String label, String name, String id) {
        WebElement field = see("input[aria-label='" + label + "']");
        field.click();
        field.sendKeys(name);
        see("[data-database='" + id + "']").click();
    }

    WebElement seeText(String css, String text) {
        return until(() -> driver.findElements(By.cssSelector(css)).stream()
                .filter(e -> e.getText().contains(text))
                .findFirst()
                .orElse(null));
    }

    List<WebElement> all(String css) {
        return driver.findElements(By.cssSelector(css));
    }

    void gone(String css) {
        until(() -> driver.findElements(By.cssSelector(css)).isEmpty() ? true : null);
    }

    interface Look<T> {
        T now();
    }

    <T> T until(Look<T> look) {
        try {
            return new WebDriverWait(driver, Duration.ofSeconds(60))
                    .ignoring(StaleElementReferenceException.class)
                    .until(d -> look.now());
        } catch (TimeoutException e) {
            throw new AssertionError(
                    "not seen at " + address() + ", which shows:\n"
                            + driver.findElement(By.tagName("body")).getText() + "\nand complained of " + complaints(),
                    e);
        }
    }

    void press(CharSequence... keys) {
        new Actions(driver).sendKeys(keys).perform();
    }

    void pressShift(Keys key) {
        new Actions(driver).keyDown(Keys.SHIFT).sendKeys(key).keyUp(Keys.SHIFT).perform();
    }

    /** Takes hold of an element and lets go of it so many pixels to the right. */
    void drag(WebElement element, int right) {
        new Actions(driver)
                .moveToElement(element)
                .clickAndHold()
                .moveByOffset(right / 2, 0)
                .moveByOffset(right - right / 2, 0)
                .release()
                .perform();
    }

    /** Clicks so many pixels right of an element's centre. */
    void clickBeside(WebElement element, int fromCentre) {
        new Actions(driver).moveToElement(element, fromCentre, 0).click().perform();
    }

    void hover(WebElement element, int fromCentre) {
        new Actions(driver).moveToElement(element, fromCentre, 0).perform();
    }

    void choose(String css, Path... files) {
        driver.findElement(By.cssSelector(css))
                .sendKeys(
                        Stream.of(files).map(f -> f.toAbsolutePath().toString()).collect(Collectors.joining("\n")));
    }

    Object script(String script, Object... arguments) {
        return driver.executeScript(script, arguments);
    }

    /** What the page complained about on its console. */
    List<String> complaints() {
        return driver.manage().logs().get("browser").getAll().stream()
                .filter(e -> e.getLevel().intValue() >= java.util.logging.Level.SEVERE.intValue())
                .map(e -> e.getMessage())
                .toList();
    }

    /** The page as it is printed, by its own rules for paper. */
    byte[] print() {
        Map<String, Object> printed =
                driver.executeCdpCommand("Page.printToPDF", Map.of("preferCSSPageSize", true, "printBackground", true));
        return java.util.Base64.getDecoder().decode((String) printed.get("data"));
    }

    /** Keeps a picture where {@code -Dfirth.shots=DIR} asks for it. */
    void picture(String name) throws IOException {
        String directory = System.getProperty("firth.shots");
        if (directory != null) {
            Files.createDirectories(Path.of(directory));
            Files.write(Path.of(directory, name + ".png"), driver.getScreenshotAs(OutputType.BYTES));
        }
    }

    @Override
    public void close() throws IOException {
        driver.quit();
        try (var files = Files.walk(profile)) {
            files.sorted(java.util.Comparator.reverseOrder()).map(Path::toFile).forEach(File::delete);
        }
    }
}
