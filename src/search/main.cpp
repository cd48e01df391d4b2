// stasis-search: finds the least value of a function that another program works out. `stasis solve` starts it; it knows
// nothing of feels. A program of its own because its library comes as a shared one only, which would double the time
// that every small call takes to start.
//
// It reads lines and answers each with lines:
//   minimise METHOD N STEPS PRECISION      then N lows, N highs, N starts and N first steps, a line each
//   x X1 .. XN                             its question; the answer is a line with the value, or "enough"
//   end X1 .. XN VALUE                     the least that was found
#include <cmath>
#include <cstdio>
#include <cstdlib>
#include <iostream>
#include <nlopt.h>
#include <sstream>
#include <string>
#include <vector>

namespace {

void say(const char* word, const double* x, unsigned n) {
  std::fputs(word, stdout);
  for (unsigned k = 0; k < n; ++k) std::printf(" %.17g", x[k]);
}

std::vector<double> read_numbers(unsigned n) {
  std::string line;
  std::getline(std::cin, line);
  std::istringstream words(line);
  std::vector<double> numbers(n);
  for (double& number : numbers) words >> number;
  return numbers;
}

double ask(unsigned n, const double* x, double*, void* data) {
  auto* const search = static_cast<nlopt_opt*>(data);
  say("x", x, n);
  std::putchar('\n');
  std::fflush(stdout);
  std::string answer;
  if (!std::getline(std::cin, answer)) std::exit(1); // who asked is gone
  if (answer == "enough") {
    nlopt_force_stop(*search);
    return HUGE_VAL;
  }
  return std::strtod(answer.c_str(), nullptr);
}

bool minimise(const std::string& line) {
  std::istringstream words(line);
  std::string command, method;
  unsigned n = 0;
  int steps = 0;
  double precision = 0.0;
  words >> command >> method >> n >> steps >> precision;
  if (command != "minimise" || !words || n < 1 || n > 1000) return false;
  const std::vector<double> low = read_numbers(n), high = read_numbers(n);
  std::vector<double> x = read_numbers(n);
  const std::vector<double> step = read_numbers(n);
  nlopt_opt search = nlopt_create(method == "cloud" ? NLOPT_GN_CRS2_LM : NLOPT_LN_SBPLX, n);
  nlopt_srand(1); // the same question, the same way
  nlopt_set_lower_bounds(search, low.data());
  nlopt_set_upper_bounds(search, high.data());
  nlopt_set_min_objective(search, ask, &search);
  nlopt_set_maxeval(search, steps);
  nlopt_set_xtol_rel(search, precision);
  nlopt_set_initial_step(search, step.data());
  double value = HUGE_VAL;
  nlopt_optimize(search, x.data(), &value);
  nlopt_destroy(search);
  say("end", x.data(), n);
  std::printf(" %.17g\n", value);
  std::fflush(stdout);
  return true;
}

} // namespace

int main() {
  std::string line;
  while (std::getline(std::cin, line))
    if (!minimise(line)) return 1;
  return 0;
}
