"""The benchmarks that need a server run too, shortened: their figures say nothing here."""

from unittest import mock

from tests.browser.base import BrowserTest
from tests.web.test_benchmarks import benchmark, shortened


class WithAServer(BrowserTest):
    def test_an_ordinary_day(self):
        module = benchmark("load")
        once = lambda call, bare, times: (bare(), call()) and (1.0, 1.0)  # noqa: E731
        self.enterContext(mock.patch("handouts.tasks.pdf_of", return_value=b"%PDF-1.7"))
        own = {"EMAIL": "ana@example.org", "PASSWORD": "a long password"}
        with shortened(module, beside=once, EDITORS=1, PAPERS=1, WAYS=1, p95=max, **own) as said:
            missed = module.measured(self.live_server_url, 1.0)
        self.assertFalse([each for each in missed if "failed" in each], missed)
        self.assertIn("beside 1 papers and 1 ways", said.getvalue())

    def test_from_the_click_to_the_painted_page(self):
        module = benchmark("painted")
        with shortened(module, TURNS=2) as said, mock.patch.object(module.statistics, "quantiles", return_value=[0.0]):
            module.measured(self.page, self.live_server_url)
        self.assertIn("set an amount", said.getvalue())
