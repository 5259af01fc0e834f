/** The form with the questions, where the page has one. */
export const quiz = document.querySelector("form.quiz");

/** Goes on as the button does. */
export const goOn = () => quiz.requestSubmit(quiz.querySelector("[name=go][value=on]"));
