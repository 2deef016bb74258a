"""Signed out elsewhere: what is done here is kept, asked for in place, and sent after signing in."""

import uuid

from selenium.webdriver.common.by import By

from tests.web.conftest import Browser


def test_what_is_done_while_signed_out_is_sent_after_signing_in_again(browser: Browser) -> None:
    email = f"{uuid.uuid4().hex}@away.example"
    browser.driver.delete_all_cookies()
    browser.go("/sign-up")
    for name, value in (("name", "Al Away"), ("email", email), ("password", "long enough words")):
        browser.find(f"#{name}").send_keys(value)
    browser.click("form .btn-main")
    browser.click("#start-blank")
    browser.click("#create-promo")
    browser.ready()
    browser.driver.delete_all_cookies()
    browser.driver.find_element(By.TAG_NAME, "body").send_keys("n")
    sheet = browser.find("#sign-in-again")
    assert "kept" in sheet.text
    browser.find("#again-email").send_keys(email)
    browser.find("#again-password").send_keys("not these words")
    browser.click("#sign-in-again .btn-main")
    browser.until(lambda: "do not belong together" in browser.find("#sign-in-again .refusal").text, "the refusal")
    browser.find("#again-password").clear()
    browser.find("#again-password").send_keys("long enough words")
    browser.click("#sign-in-again .btn-main")
    browser.until(lambda: len(browser.state()["notes"]) == 1, "the note that waited")
    assert not browser.all("#sign-in-again")
    browser.driver.find_element(By.TAG_NAME, "body").send_keys("n")
    browser.until(lambda: len(browser.state()["notes"]) == 2, "another one, without being asked")
    browser.complaints()
