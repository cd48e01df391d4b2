// What starting any program costs: the measure of startup_bench.
int main() {}
