package studio

import "omphalos/web/ui"

// outside are the routes of those who have not signed in.
func (s *studio) outside() []ui.Route {
	return []ui.Route{
		ui.Get("/sign-in", s.signInPage),
		ui.Post("/sign-in", ui.Form, s.signIn),
		ui.Post("/sign-out", ui.Form, s.signOut),
	}
}

// hearing are the routes of pages that are open, whether somebody is there or not.
func (s *studio) hearing() []ui.Route {
	return []ui.Route{ui.Get("/quizzes/:quiz/news", s.news)}
}

// long are the routes that have a time of their own.
func (s *studio) long() []ui.Route {
	return []ui.Route{
		ui.Post("/pictures", ui.Raw, s.addPicture),
	}
}

// rooms are the routes of those who have signed in, each with what it takes.
func (s *studio) rooms() []ui.Route {
	return []ui.Route{
		ui.Get("", s.quizzes),
		ui.Post("/quizzes", ui.Form, s.addQuiz),
		ui.Get("/new/:starter", s.starterPage),
		ui.Post("/quizzes/:quiz/title", ui.Form, s.renameQuiz),
		ui.Post("/quizzes/:quiz/copy", ui.Form, s.copyQuiz),
		ui.Post("/quizzes/:quiz/delete", ui.Form, s.deleteQuiz),
		ui.Post("/quizzes/:quiz/restore", ui.Form, s.restoreQuiz),
		ui.Get("/pictures", s.pictures),
		ui.Get("/signposts", s.signposts),
		ui.Post("/signposts", ui.Form, s.putSignpost),
		ui.Get("/signposts.csv", s.exportSignposts),
		ui.Post("/signposts/import", ui.Form, s.importSignposts),
		ui.Get("/places", s.places),
		ui.Post("/places", ui.Form, s.putPlace),
		ui.Post("/places/delete", ui.Form, s.removePlace),
		ui.Get("/places.csv", s.exportPlaces),
		ui.Post("/places/import", ui.Form, s.importPlaces),
		ui.Get("/catalogue", s.catalogue),
		ui.Post("/catalogue", ui.Form, s.putProduct),
		ui.Get("/catalogue.csv", s.exportProducts),
		ui.Post("/catalogue/import", ui.Form, s.importProducts),
		ui.Post("/catalogue/:product/delete", ui.Form, s.removeProduct),
		ui.Post("/catalogue/:product/restore", ui.Form, s.removeProduct),
		ui.Get("/quizzes/:quiz", s.sheet),
		ui.Get("/quizzes/:quiz/map", s.showMap),
		ui.Get("/quizzes/:quiz/map.svg", s.downloadMap),
		ui.Get("/quizzes/:quiz/draft", s.draft),
		ui.Get("/quizzes/:quiz/questions", s.questions),
		ui.Post("/quizzes/:quiz/reuse/:other/:key", ui.JSON, s.reuse),
		ui.Patch("/quizzes/:quiz/draft", ui.JSON, s.patch),
		ui.Post("/quizzes/:quiz/acts", ui.JSON, s.act),
		ui.Post("/quizzes/:quiz/aim/:step", ui.JSON, s.aim),
		ui.Get("/quizzes/:quiz/tables/:file", s.downloadTable),
		ui.Post("/quizzes/:quiz/tables/:file", ui.JSON, s.takeTable),
		ui.Post("/quizzes/:quiz/undo", ui.JSON, s.undo),
		ui.Post("/quizzes/:quiz/redo", ui.JSON, s.redo),
		ui.Get("/quizzes/:quiz/release", s.releasePage),
		ui.Post("/quizzes/:quiz/release", ui.Form, s.release),
		ui.Get("/quizzes/:quiz/learn", s.learn),
		ui.Get("/quizzes/:quiz/learn/:number", s.response),
		ui.Post("/quizzes/:quiz/learn/:number/delete", ui.Form, s.deleteResponse),
	}
}
