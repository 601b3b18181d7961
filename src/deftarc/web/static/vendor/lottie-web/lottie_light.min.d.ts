declare const lottie: any; export default lottie;
